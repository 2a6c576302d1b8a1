"""How do things come in and go out?"""
