"""What a drawing has become: laid over its reference, judged as its artist judges, and what to do about it."""
