"""Serve the product on one port, and say so in one line once it answers."""

import argparse
import asyncio
import sys
import warnings

import uvicorn


class SayingServer(uvicorn.Server):
    """Prints its line when it is listening, not before."""

    line = ""
    pads: tuple[str, int] = ("127.0.0.1", 0)

    async def startup(self, sockets: list[object] | None = None) -> None:  # type: ignore[override]
        from versomark.school.room import pad_port

        await super().startup(sockets)  # type: ignore[arg-type]
        try:
            await pad_port.listen(*self.pads)
        except OSError:
            taken = f"verso: port {self.pads[1]} is in use, so response pads cannot be heard; --pads names another."
            print(taken, file=sys.stderr, flush=True)
        print(self.line, flush=True)


def main() -> None:
    # WhiteNoise opens its files synchronously; they are small, and Django reads them whole for us.
    warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
    parser = argparse.ArgumentParser(prog="versomark.site.serve")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=8321)
    parser.add_argument("--pads", type=int, default=8331, help="where receivers of response pads are heard")
    parser.add_argument("--pads-host", default="127.0.0.1")
    parser.add_argument("--line", default="serving")
    options = parser.parse_args()
    # Not at the top: processes that read scans import this module to find out what they are, and need none of it.
    from . import background
    from .asgi import application

    background.start()
    config = uvicorn.Config(
        application,
        host=options.host,
        port=options.port,
        lifespan="off",
        log_level="warning",
        # A student answers every few seconds; a connection for each answer would cost more than the answer.
        timeout_keep_alive=75,
        # A nudge is twenty bytes.
        ws_per_message_deflate=False,
    )
    server = SayingServer(config)
    server.line = options.line
    server.pads = (options.pads_host, options.pads)
    asyncio.run(server.serve())


if __name__ == "__main__":
    main()
