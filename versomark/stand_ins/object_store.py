"""A small object store that speaks as much of S3 as keeping files takes, in memory: a stand-in for the real ones, which
are reached by the same settings (`VERSO_FILES_STORE`, `VERSO_FILES_ENDPOINT`). It asks nobody who they are.

The dialect is the S3 REST API: PUT, GET, HEAD and DELETE of an object, and a list of a bucket by prefix and delimiter.
From memory of its published reference, and tried with boto3, which is the client of those who published it.
"""

import threading
from hashlib import md5
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, unquote, urlsplit
from xml.sax.saxutils import escape

WHEN = "Thu, 01 Jan 2026 00:00:00 GMT"


class ObjectStore:
    """Serves on a port of this machine until it is closed. While `away` it answers as one that is out of order."""

    def __init__(self) -> None:
        self.objects: dict[str, bytes] = {}
        self.away = False
        store = self

        class Bound(_Handler):
            objects = store

        self._server = ThreadingHTTPServer(("127.0.0.1", 0), Bound)
        threading.Thread(target=self._server.serve_forever, daemon=True).start()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self._server.server_address[1]}"

    def close(self) -> None:
        self._server.shutdown()
        self._server.server_close()

    def listing(self, bucket: str, prefix: str, delimiter: str) -> str:
        """Keys below a prefix; with a delimiter what lies deeper is named by its folder alone."""
        keys, folders = list[str](), dict[str, None]()
        for path in sorted(self.objects):
            place, _, key = path.partition("/")
            if place != bucket or not key.startswith(prefix):
                continue
            folder, cut, _rest = key[len(prefix) :].partition(delimiter) if delimiter else ("", "", "")
            if cut:
                folders[prefix + folder + delimiter] = None
            else:
                keys.append(key)
        contents = "".join(
            f"<Contents><Key>{escape(key)}</Key><Size>{len(self.objects[f'{bucket}/{key}'])}</Size></Contents>"
            for key in keys
        )
        below = "".join(f"<CommonPrefixes><Prefix>{escape(name)}</Prefix></CommonPrefixes>" for name in folders)
        return f"<ListBucketResult><IsTruncated>false</IsTruncated>{contents}{below}</ListBucketResult>"


class _Handler(BaseHTTPRequestHandler):
    protocol_version = "HTTP/1.1"
    objects: ObjectStore

    def log_message(self, *_: Any) -> None:
        """Says nothing on the terminal."""

    def parse_request(self) -> bool:
        if not super().parse_request():
            return False
        if self.objects.away:
            self._answer(503)
            self.close_connection = True
        return not self.objects.away

    def do_PUT(self) -> None:
        self.objects.objects[self._key] = _unframed(self.rfile.read(int(self.headers["Content-Length"])), self.headers)
        self._answer(200, ETag=_tag(self.objects.objects[self._key]))

    def do_DELETE(self) -> None:
        self.objects.objects.pop(self._key, None)
        self._answer(204)

    def do_HEAD(self) -> None:
        self.do_GET()

    def do_GET(self) -> None:
        asked = {name: values[0] for name, values in parse_qs(urlsplit(self.path).query).items()}
        data = self.objects.objects.get(self._key)
        if "/" not in self._key:
            listing = self.objects.listing(self._key, asked.get("prefix", ""), asked.get("delimiter", ""))
            self._answer(200, listing.encode())
        elif data is None:
            self._answer(404, b"<Error><Code>NoSuchKey</Code></Error>")
        elif "Range" in self.headers:
            first, _, last = self.headers["Range"].removeprefix("bytes=").partition("-")
            part = data[int(first) : int(last) + 1 if last else None]
            where = f"bytes {first}-{int(first) + len(part) - 1}/{len(data)}"
            self._answer(206, part, ETag=_tag(data), Last_Modified=WHEN, Content_Range=where)
        else:
            self._answer(200, data, ETag=_tag(data), Last_Modified=WHEN)

    @property
    def _key(self) -> str:
        return unquote(urlsplit(self.path).path.strip("/"))

    def _answer(self, status: int, body: bytes = b"", **headers: str) -> None:
        self.send_response(status)
        for name, value in headers.items():
            self.send_header(name.replace("_", "-"), value)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        if self.command != "HEAD":
            self.wfile.write(body)


def _tag(data: bytes) -> str:
    return f'"{md5(data, usedforsecurity=False).hexdigest()}"'


def _unframed(data: bytes, headers: Any) -> bytes:
    """A body without the frames in which clients send a sum along."""
    if "aws-chunked" not in headers.get("Content-Encoding", ""):
        return data
    pieces, at = list[bytes](), 0
    while size := int(data[at : (end := data.index(b"\r\n", at))].split(b";")[0], 16):
        pieces.append(data[end + 2 : end + 2 + size])
        at = end + 2 + size + 2
    return b"".join(pieces)
