"""Which passes give the colour that is wanted?"""
