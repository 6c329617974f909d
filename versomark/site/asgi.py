"""One process serves pages, APIs and sockets."""

import os

from channels.auth import AuthMiddlewareStack
from channels.routing import ProtocolTypeRouter, URLRouter
from django.core.asgi import get_asgi_application
from django.urls import path

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "versomark.site.settings")
http = get_asgi_application()

from versomark.school.sittings.consumers import SeatListener, StaffListener  # noqa: E402  (needs the apps loaded)
from versomark.site.body_limit import BodyLimit  # noqa: E402

sockets = URLRouter(
    [
        path("ws/sittings/<int:sitting_id>", StaffListener.as_asgi()),
        path("ws/seat", SeatListener.as_asgi()),
    ]
)
application = BodyLimit(ProtocolTypeRouter({"http": http, "websocket": AuthMiddlewareStack(sockets)}))
