"""One process serves pages, APIs and sockets.

Sockets are spoken in the event loop. Pages and APIs run in threads that stay, each with its connection to the database:
over ASGI Django makes a thread and a connection for every request and changes threads for every middleware, which is
most of what a short request costs.
"""

import os

from channels.auth import AuthMiddlewareStack
from channels.routing import ProtocolTypeRouter, URLRouter
from channels.sessions import CookieMiddleware
from django.conf import settings
from django.core.wsgi import get_wsgi_application
from django.urls import path

from versomark.site.threads import InThreads

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "versomark.site.settings")
THREADS = 24
"""Some of them may be waiting for a slow upload, or drawing a booklet."""
FOR_SHORT = 8 if settings.DATABASE_URL else 2
"""For what students' devices ask, so that it is done in a row. With PostgreSQL most of it is waiting for a commit."""
http = InThreads(get_wsgi_application(), workers=THREADS, for_short=FOR_SHORT)

from versomark.school.delivery.consumers import SeatListener, StaffListener  # noqa: E402
from versomark.site.body_limit import BodyLimit  # noqa: E402

sockets = URLRouter(
    [
        path("ws/sittings/<int:sitting_id>", AuthMiddlewareStack(StaffListener.as_asgi())),
        path("ws/seat", CookieMiddleware(SeatListener.as_asgi())),  # a student has no session
    ]
)
application = BodyLimit(ProtocolTypeRouter({"http": http, "websocket": sockets}))
