"""The server: keeps people's things and speaks HTTP. All rules of colour live in core."""
