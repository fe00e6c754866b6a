"""Opening the window: fonts first, then the job, then what may go wrong."""

from __future__ import annotations

import os
import signal
import socket
import sys
from datetime import datetime
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QObject, QSocketNotifier
from PySide6.QtWidgets import QApplication

from homunculus import demo
from homunculus.app.desk import Desk
from homunculus.app.shell.window import Window
from homunculus.app.theme import load_fonts, load_themes
from homunculus.app.tidying import Tidying
from homunculus.core.errors import UserError
from homunculus.store.folder import JobFolder
from homunculus.store.recent import remember
from homunculus.store.rescue import rescued


def make_application() -> QApplication:
    """Make the one application object and give it the fonts."""
    application = QApplication.instance()
    if not isinstance(application, QApplication):
        application = QApplication(["homunculus"])
        application.setApplicationDisplayName("Homunculus")
        load_fonts()
    return application


def make_window(folder: Path, now: datetime | None = None, theme: str | None = None) -> Window:
    """Open a job folder and build its window, not yet shown.

    Raises
    ------
    UserError
        When the folder cannot be opened.
    """
    make_application()
    desk = Desk(JobFolder(folder, now or datetime.now()), load_themes(), now)
    window = Window(desk)
    if theme:
        desk.use_theme(theme)
    return window


def open_window(folder: Path, now: datetime | None = None, theme: str | None = None) -> int:
    """Open a job folder in a window and run until it is closed; return the exit code.

    Raises
    ------
    UserError
        When the folder cannot be opened or there is no screen.
    """
    application = _application()
    _show(folder, now, theme)
    return _run(application)


def open_start(now: datetime | None = None, theme: str | None = None, *, new: bool = False) -> int:
    """Ask which job, open it in a window and run until it is closed; return the exit code.

    Raises
    ------
    UserError
        When there is no screen.
    """
    from homunculus.app.start_page import StartPage

    application = _application()
    page = StartPage(load_themes()["stage" if theme == "stage" else "plaster"], lambda: now or datetime.now(), new=new)
    page.resize(960, 640)

    def go(folder: Path) -> None:
        try:
            _show(folder, now, theme)
        except UserError as trouble:
            page.say(str(trouble))
        else:
            page.close()

    def go_demo() -> None:
        try:
            go(demo.open_copy((now or datetime.now()).date()))
        except UserError as trouble:
            page.say(str(trouble))

    page.chosen.connect(go)
    page.asked_demo.connect(go_demo)
    page.show()
    return _run(application)


def _application() -> QApplication:
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")):
        raise UserError("There is no screen to open a window on", remedy="Use “homunculus figures” without one")
    return make_application()


_SHOWN: list[Window] = []
"""What is saved when the system says that all ends: the window that is open."""


def _show(folder: Path, now: datetime | None, theme: str | None) -> None:
    window = make_window(folder, now, theme)
    remember(window.desk.folder.path)
    catch_the_unexpected(window)
    window.show()
    window.desk.start()
    for sentence in rescued():
        window.desk.said.emit(sentence)
    Tidying(window.desk)
    _SHOWN.append(window)


def _run(application: QApplication) -> int:
    listening = save_when_told_to_end(application)
    try:
        return int(application.exec())
    finally:
        listening.close()


class Ending(QObject):
    """Saves what is open and ends when the system says so: a signal, or a desktop that closes."""

    def __init__(self, application: QApplication) -> None:
        super().__init__()
        self._application = application
        self._read, self._write = socket.socketpair()
        for end in (self._read, self._write):
            end.setblocking(False)
        self._before = signal.set_wakeup_fd(self._write.fileno())
        self._notifier = QSocketNotifier(self._read.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self.end)
        for number in (signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, lambda *_: None)  # it arrives through the socket, where the event loop sees it
        application.commitDataRequest.connect(self.end)

    def end(self, *_: object) -> None:
        """Save within three seconds, here or elsewhere, and end."""
        for window in _SHOWN:
            try:
                window.desk.rescue()
            except (UserError, OSError) as trouble:
                sys.stderr.write(f"homunculus: {trouble}\n")
            window.leave()
        self._application.exit(0)

    def close(self) -> None:
        """Listen no longer."""
        signal.set_wakeup_fd(self._before)
        self._notifier.setEnabled(False)
        self._read.close()
        self._write.close()


def save_when_told_to_end(application: QApplication) -> Ending:
    """Listen to TERM, HUP and a closing desktop."""
    return Ending(application)


def catch_the_unexpected(window: Window) -> None:
    """After an error that nobody foresaw: save the job, note the trace, then say so in a sentence."""

    def hook(kind: type[BaseException], value: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            window.close()
            return
        import traceback  # for the day on which it is needed

        desk = window.desk
        try:
            desk.folder.save(desk.job, desk.session.pins)
            kept = "The job is saved."
        except UserError as trouble:
            kept = str(trouble)
        report = desk.folder.path / "trouble.txt"
        try:
            with report.open("a", encoding="utf-8") as file:
                file.write(f"{datetime.now():%Y-%m-%d %H:%M:%S}\n")
                traceback.print_exception(kind, value, trace, file=file)
        except OSError:
            pass  # the sentence below matters more than the trace
        desk.said.emit(f"Something went wrong that we did not foresee. {kept} What happened is in {report.name}.")

    sys.excepthook = hook
