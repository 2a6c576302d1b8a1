"""What colours can skin have?"""
