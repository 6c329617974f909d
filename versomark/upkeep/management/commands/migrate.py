"""Django's `migrate`, which makes the tables of a database that has none at once, as the models stand.

The steps tell how a school that is there gets from one version to the next. To build an empty one by going through all
of them takes twenty seconds on a small machine, and leads to the same tables; a test compares the two.
"""

from typing import Any

from django.apps import apps
from django.core.management.commands import migrate
from django.core.management.sql import emit_post_migrate_signal
from django.db import connections
from django.db.migrations.executor import MigrationExecutor

_SELECTING = ("app_label", "migration_name", "fake", "fake_initial", "plan", "check_unapplied", "prune", "run_syncdb")


class Command(migrate.Command):
    def handle(self, *args: Any, **options: Any) -> None:
        connection = connections[options["database"]]
        if any(options[name] for name in _SELECTING) or connection.introspection.table_names():
            super().handle(*args, **options)
            return
        executor = MigrationExecutor(connection)
        steps = executor.migration_plan(executor.loader.graph.leaf_nodes())
        executor.recorder.ensure_schema()
        # All or nothing: tables of which no step is noted would be made once more at the next start, and refused.
        with connection.schema_editor(atomic=True) as editor:
            for model in apps.get_models():
                if model._meta.managed and not model._meta.proxy:
                    editor.create_model(model)
            for step, _backwards in steps:
                executor.recorder.record_applied(step.app_label, step.name)
        emit_post_migrate_signal(options["verbosity"], False, connection.alias, apps=apps, plan=[])
