"""What is a colour, and how far is it from another?"""
