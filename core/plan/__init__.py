"""From a set-up and a tray to recipes: what an artist owns and decides laid out, and the question answered."""
