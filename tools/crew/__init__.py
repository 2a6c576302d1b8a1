"""The night ferry's crew: made-up heads, modelled as solids, lit and coloured by the skin model."""
