"""What would a described skin look like under an imagined light?"""
