"""A query that is asked again and again with another value, composed once.

Django composes the SQL of a query each time it is asked. For one seat with its sitting and student that takes five
times as long as SQLite takes to answer, and a class that answers asks it a hundred times a second.
"""

from collections.abc import Callable, Sequence
from functools import cached_property
from typing import Any, Generic, TypeVar

from django.db import DEFAULT_DB_ALIAS, connections
from django.db.models import Model, QuerySet
from django.db.models.query import get_related_populators

M = TypeVar("M", bound=Model)
Value = int | str
_FIRST = 991_177_553
"""This and the numbers after it stand in the places of the values while a query is composed; no other constant of a
query here is the same."""


class CompiledQuery(Generic[M]):
    """The models of a query by one number, such as an id, or by values of these `kinds`. `ask` makes the query; nothing
    about it but the values may differ from one time to the next. Follows `select_related` and `defer`, as Django's own
    `ModelIterable` does."""

    def __init__(self, ask: Callable[..., QuerySet[M]], kinds: Sequence[type[Value]] = (int,)) -> None:
        self._ask = ask
        self._stand_ins = [kind(_FIRST + n) for n, kind in enumerate(kinds)]

    def all(self, *values: Value) -> list[M]:
        connection, (sql, params) = connections[DEFAULT_DB_ALIAS], self._sql
        with connection.cursor() as cursor:
            given = dict(zip(self._stand_ins, values, strict=True))
            cursor.execute(sql, [given.get(param, param) for param in params])
            rows: Sequence[Any] = cursor.fetchall()
        if self._converters:
            rows = list(self._compiler.apply_converters(rows, self._converters))
        return [self._model(row) for row in rows]

    def first(self, *values: Value) -> M | None:
        return next(iter(self.all(*values)), None)

    @cached_property
    def _compiler(self) -> Any:
        return self._ask(*self._stand_ins).query.get_compiler(DEFAULT_DB_ALIAS)

    @cached_property
    def _sql(self) -> tuple[str, Sequence[Any]]:
        return self._compiler.as_sql()  # type: ignore[no-any-return]

    @cached_property
    def _converters(self) -> Any:
        return self._compiler.get_converters([column for column, _, _ in self._compiler.select])

    @cached_property
    def _fields(self) -> tuple[type[M], list[str], slice]:
        info = self._compiler.klass_info
        places = info["select_fields"]
        names = [self._compiler.select[at][0].target.attname for at in places]
        return info["model"], names, slice(places[0], places[-1] + 1)

    @cached_property
    def _related(self) -> Any:
        return get_related_populators(self._compiler.klass_info, self._compiler.select, DEFAULT_DB_ALIAS)  # type: ignore[call-arg]

    def _model(self, row: Sequence[Any]) -> M:
        model, names, part = self._fields
        db = model.from_db(DEFAULT_DB_ALIAS, names, row[part])
        for entry in self._related:
            entry.populate(row, db)
        return db
