"""What do measured boxes say about the sticks?"""
