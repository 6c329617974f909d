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
_VALUE = 991_177_553
"""Stands in the place of the value while the query is composed; no other constant of a query here is the same."""


class Prepared(Generic[M]):
    """The models of a query by one number, such as an id. `ask` makes the query; nothing about it but that number may
    differ from one time to the next. Follows `select_related` and `defer`, as Django's own `ModelIterable` does."""

    def __init__(self, ask: Callable[[int], QuerySet[M]]) -> None:
        self._ask = ask

    def all(self, value: int) -> list[M]:
        connection, (sql, params) = connections[DEFAULT_DB_ALIAS], self._sql
        with connection.cursor() as cursor:
            cursor.execute(sql, [value if one == _VALUE else one for one in params])
            rows: Sequence[Any] = cursor.fetchall()
        if self._converters:
            rows = list(self._compiler.apply_converters(rows, self._converters))
        return [self._model(row) for row in rows]

    def first(self, value: int) -> M | None:
        return next(iter(self.all(value)), None)

    @cached_property
    def _compiler(self) -> Any:
        return self._ask(_VALUE).query.get_compiler(DEFAULT_DB_ALIAS)

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
        found = model.from_db(DEFAULT_DB_ALIAS, names, row[part])
        for one in self._related:
            one.populate(row, found)
        return found
