"""Django's plain handler in threads that stay, beside the event loop of the sockets.

a2wsgi does that, but asks the loop for the body and waits for it at every piece of the reply: five changes of thread
for a request that has 200 bytes each way. Here the first piece of the body is there before a thread is asked, and what
a thread sends it leaves with the loop.

What students' devices ask is short and comes by the hundred. It has a few threads of its own: each statement of SQL
lets go of the interpreter, and with two dozen threads at it everybody waits for everybody at each of them, also whoever
holds the place of the one writer. In a row the same work is done sooner for all (`./verso bench online`).
"""

from concurrent.futures import ThreadPoolExecutor
from typing import Any

from a2wsgi import WSGIMiddleware
from a2wsgi.wsgi import WSGIResponder

SHORT = "/api/v1/student/"


class InThreads(WSGIMiddleware):
    def __init__(self, app: Any, workers: int, for_short: int) -> None:
        super().__init__(app, workers=workers)
        self.short = ThreadPoolExecutor(max_workers=for_short, thread_name_prefix="short")

    async def __call__(self, scope: Any, receive: Any, send: Any) -> None:
        if scope["type"] != "http":
            await super().__call__(scope, receive, send)
            return
        # Bodies have arrived whole by now (`body_limit`), so no thread waits for a sender.
        first = await receive()
        short = scope["path"].startswith(SHORT) and not first.get("more_body", False)
        await Responder(self.app, self.short if short else self.executor, 0, first)(scope, receive, send)


class Responder(WSGIResponder):
    def __init__(self, app: Any, executor: Any, send_queue_size: int, first: Any) -> None:
        super().__init__(app, executor, send_queue_size)
        self.first = first

    def wsgi(self, environ: Any, start_response: Any) -> None:
        body = environ["wsgi.input"]
        body.buffer.extend(self.first.get("body", b""))
        body._has_more = self.first.get("more_body", False)
        super().wsgi(environ, start_response)

    def send(self, message: Any) -> None:
        # What is put here stands before the end, which the loop puts once it hears that the thread is done.
        self.loop.call_soon_threadsafe(self.send_queue.put_nowait, message)
