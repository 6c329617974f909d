"""What runs beside the pages: long work, one piece at a time, the watch over folder and mailbox, and the
clock of sittings, what students are told, and the back-up of the night."""

import logging
import os
import signal
import threading
import time
from collections.abc import Callable
from datetime import date, timedelta

from django.conf import settings
from django.db import DatabaseError, close_old_connections, connection
from django.utils import timezone

log = logging.getLogger(__name__)
LOOK_AFTER_WORK = 0.4
LOOK_AT_CLOCK = 1.0
LOOK_IN_FOLDER = 2.0
LOOK_IN_MAIL = 5.0
TELL_EVERY = 5.0
LOOK_AT_NIGHT = 600.0
KEEP_FINISHED = timedelta(days=7)


def start() -> None:
    """Start all as daemons: whatever is half done when the service stops is taken up again by the next start.

    Of several processes on one PostgreSQL one at a time does it, whichever comes first; when it ends, another goes on.
    """
    threading.Thread(target=_renew_presence, name="presence", daemon=True).start()
    if connection.vendor == "sqlite":
        _begin()
    elif settings.DOES_BACKGROUND_WORK:
        threading.Thread(target=_stand_by, name="stand-by", daemon=True).start()


def _begin() -> None:
    from versomark.school.accounts.deliveries import forget_old_deliveries
    from versomark.school.accounts.security_log import forget_old_events
    from versomark.school.paper.scanning import resume_unfinished

    _forget_finished()
    forget_old_deliveries()
    forget_old_events()
    resume_unfinished()
    at_work.set()
    threading.Thread(target=_work, name="long work", daemon=True).start()
    threading.Thread(target=_watch, name="inbox", daemon=True).start()
    threading.Thread(target=_tell, name="notices", daemon=True).start()
    threading.Thread(target=_keep_time, name="clock", daemon=True).start()
    threading.Thread(target=_at_night, name="night", daemon=True).start()
    threading.Thread(target=_refresh, name="old analyses", daemon=True).start()


at_work = threading.Event()
"""Set in the process whose turn the work in the background is."""
LOOK_FOR_TURN = 2.0


def _stand_by() -> None:
    """Wait for the turn, and begin. A lock that belongs to a session ends with it, also where a process was killed or a
    machine went; who has lost the session has lost the turn, and ends so that a supervisor starts it afresh."""
    from versomark.site.postgresql.base import WORK

    own = connection.copy()  # a session of its own, for nothing else
    had = False
    while True:
        try:
            own.ensure_connection()
            with own.cursor() as cursor:
                if had:
                    cursor.execute("SELECT 1")  # whether the session is still there
                else:
                    cursor.execute("SELECT pg_try_advisory_lock(%s)", [WORK])
                mine = bool(cursor.fetchone()[0])
        except DatabaseError:
            if had:
                log.error("The session that holds the turn of the background was lost; this process ends.")
                os.kill(os.getpid(), signal.SIGTERM)
                return
            own.close()
            mine = False
        if mine and not had:
            had = True
            _begin()
        time.sleep(LOOK_FOR_TURN)


def _renew_presence() -> None:
    from versomark.school.delivery import presence, steady

    while True:
        time.sleep(presence.RENEWED_EVERY)
        _guarded(presence.renew)
        if not at_work.is_set() and steady.clock.jump() is not None:
            # What runs was moved along by the process whose turn it is, if it was its machine's clock at all.
            steady.clock.take_wall()


def _forget_finished() -> None:
    from django_tasks_db.models import DBTaskResult

    # What was running when the service stopped is not running now; the scan it was for is queued anew.
    DBTaskResult.objects.filter(finished_at=None).delete()
    DBTaskResult.objects.filter(finished_at__lt=timezone.now() - KEEP_FINISHED).delete()


def _work() -> None:
    from django_tasks_db.management.commands.db_worker import Worker

    worker = Worker(
        queue_names=["default"],
        interval=LOOK_AFTER_WORK,
        batch=False,
        backend_name="default",
        startup_delay=False,
        max_tasks=None,
        worker_id="in the server",
        excluded_queue_names=[],
    )
    while True:
        _guarded(worker.run)
        time.sleep(LOOK_AFTER_WORK)


def _watch() -> None:
    from versomark.school.paper.inbox import Watched, look_in_mail

    watched, mail_due = Watched(), 0.0
    while True:
        _guarded(watched.look)
        if time.monotonic() >= mail_due:
            _guarded(look_in_mail)
            mail_due = time.monotonic() + LOOK_IN_MAIL
        close_old_connections()
        time.sleep(LOOK_IN_FOLDER)


def _keep_time() -> None:
    from versomark.school.delivery.by_the_clock import tick

    while True:
        _guarded(tick)
        close_old_connections()
        time.sleep(LOOK_AT_CLOCK)


def _tell() -> None:
    from versomark.school.portal.mail import send_waiting
    from versomark.school.portal.notifications import tell_all
    from versomark.school.reports import mail

    while True:
        _guarded(tell_all)
        _guarded(send_waiting)
        _guarded(mail.send_waiting)
        close_old_connections()
        time.sleep(TELL_EVERY)


def _at_night() -> None:
    while True:
        # Not at once: a service that was just started has people waiting for it.
        time.sleep(LOOK_AT_NIGHT)
        _guarded(work_of_the_night)
        close_old_connections()


_done_on: list[date] = []
_told_on: list[date] = []
"""When administrators were told by mail that it failed: once a night."""


def work_of_the_night() -> bool:
    """Once a night: the back-up, and then what goes by itself. Where there is no back-up nothing goes, and ten minutes
    later it is tried again. Whether it was done now."""
    from versomark.school.accounts.security_log import forget_old_events
    from versomark.school.privacy.erasing import erase_who_is_over
    from versomark.upkeep.backups import back_up_tonight, tell_administrators

    now = timezone.localtime()
    if now.hour < settings.BACKUP_HOUR or now.date() in _done_on:
        return False
    try:
        back_up_tonight()
    except Exception as error:
        if now.date() not in _told_on:
            _told_on[:] = [now.date()]
            tell_administrators(str(error))
        raise
    erase_who_is_over()
    forget_old_events()
    _done_on[:] = [now.date()]
    return True


def _refresh() -> None:
    from versomark.school.findings.public import refresh_analyses

    _guarded(refresh_analyses)
    close_old_connections()


def _guarded(step: Callable[[], object]) -> None:
    """A thread that dies would leave every scan waiting, so nothing that goes wrong may end it."""
    try:
        step()
    except Exception:
        log.exception("something went wrong in the background; it goes on")
