"""In which order is the work done?"""
