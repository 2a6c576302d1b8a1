"""Settings of gunicorn. One process with threads: what is worked out is kept in its memory."""

import os

bind = f"127.0.0.1:{os.environ.get('CALTIN_PORT', '8000')}"
workers = 1
threads = 6
worker_class = "server.worker.Worker"
timeout = 120
loglevel = "warning"
control_socket_disable = True
