"""What is really there in the reference?"""
