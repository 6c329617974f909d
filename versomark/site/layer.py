"""Where nudges go through: Channels' layer in memory, tidied once a second rather than with every message."""

from time import monotonic

from channels.layers import InMemoryChannelLayer

TIDY_EVERY = 1.0


class Layer(InMemoryChannelLayer):  # type: ignore[misc]  # channels ships no types
    """The one it extends looks through every channel whenever it sends or receives, and a full school has hundreds."""

    tidied = 0.0

    def _clean_expired(self) -> None:
        now = monotonic()
        if now - self.tidied >= TIDY_EVERY:
            self.tidied = now
            super()._clean_expired()
