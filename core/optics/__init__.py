"""What does a stick do to the light that the paper sends back?"""
