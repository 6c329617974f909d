"""The one way a use case says no: a sentence for the person, and what was kept."""


class DomainError(Exception):
    """A request that cannot be carried out. `says` is shown as it stands; `problems` lists details, if any."""

    def __init__(self, says: str, status: int = 409, problems: list[str] | None = None) -> None:
        super().__init__(says)
        self.says = says
        self.status = status
        self.problems = problems or []


class NotFound(DomainError):
    """Nothing there, or not this person's: the two are not told apart."""

    def __init__(self, what: str) -> None:
        super().__init__(f"There is no such {what}. It may have been removed.", status=404)
