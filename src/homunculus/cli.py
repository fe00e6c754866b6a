"""The command line: open the window, print figures, take files in, set the shop, put a damaged job right.

Exit codes: 0 done, 1 something that a sentence on standard error explains, 2 the command was not understood.
"""

from __future__ import annotations

import argparse
import gc
import sys
from collections.abc import Callable, Iterable
from datetime import datetime
from pathlib import Path
from typing import NoReturn

from homunculus import __version__
from homunculus.core.errors import UserError
from homunculus.core.quantities import System

ABOUT = "homunculus: a workshop drawing that answers back"
OPENING = """\
  homunculus                      choose a job; the first time your own copy of the demo
  homunculus JOB_FOLDER           open a job
  homunculus COMMAND --help       what a command takes
"""


MOST_BYTES = 50_000_000
"""Of lines that are run at once."""


class UsageTrouble(Exception):  # noqa: N818  (a sentence for the person who typed)
    """The command line was not understood."""


class _Parser(argparse.ArgumentParser):
    """One that hands its trouble back instead of ending the process."""

    def error(self, message: str) -> NoReturn:
        raise UsageTrouble(f"{message}\n{self.format_usage()}")


def main(arguments: list[str] | None = None) -> int:
    """Run a command line and return its exit code.

    Parameters
    ----------
    arguments
        Without the program's name; those of the process when left out.
    """
    words = list(sys.argv[1:] if arguments is None else arguments)
    parser, commands = _parser()
    if not words or words[0] not in (*commands, "-h", "--help", "--version"):
        words.insert(0, "open")
    try:
        chosen = parser.parse_args(words)
        return int(chosen.run(chosen))
    except SystemExit as end:  # help or version was printed
        return int(end.code or 0)
    except UsageTrouble as trouble:
        print(f"homunculus: {trouble}", end="", file=sys.stderr)
        return 2
    except UserError as trouble:
        print(f"homunculus: {trouble}", file=sys.stderr)
        return 1
    except BrokenPipeError:
        sys.stderr.close()  # whoever read us has had enough; saying so would go to the same closed pipe
        return 0


def _parser() -> tuple[argparse.ArgumentParser, Iterable[str]]:
    parser = _Parser("homunculus", description=f"{ABOUT}\n\n{OPENING}", allow_abbrev=False,
                     formatter_class=argparse.RawDescriptionHelpFormatter)  # fmt: skip
    parser.add_argument("--version", action="version", version=f"homunculus {__version__}")
    commands = parser.add_subparsers(title="commands", metavar="COMMAND", required=True)

    def command(name: str, about: str, run: object) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=about, description=about, allow_abbrev=False)
        made.set_defaults(run=run)
        return made

    def folder(of: argparse.ArgumentParser) -> None:
        of.add_argument("folder", metavar="JOB_FOLDER", type=Path)

    def window(of: argparse.ArgumentParser) -> None:
        of.add_argument(
            "--now", metavar="MOMENT", type=_moment, help="take this as the present moment, as 2026-02-24T09:10"
        )
        of.add_argument("--theme", choices=("plaster", "stage"), help="colours: for the shop, or for a dark set")

    opened = command(
        "open", "open a job in the window; when no folder is named, choose one, and the first time the demo", _open
    )
    opened.add_argument("folder", metavar="JOB_FOLDER", type=Path, nargs="?")
    window(opened)
    start = command("start", "choose a job: those open lately, a new one, the demo, another folder", _start)
    start.add_argument("--new", action="store_true", help="with the sheet of a new job")
    window(start)
    demo = command("demo", "open your own copy of the demo job", _demo)
    demo.add_argument("--reset", action="store_true", help="put your copy aside and open a fresh one")
    window(demo)
    new = command("new", "make an empty job and open it", _new)
    folder(new)
    new.add_argument("name", metavar="NAME")
    window(new)

    figures = command("figures", "print reckoned figures, with unit and why", _figures)
    folder(figures)
    figures.add_argument(
        "--of", "--build", default="", metavar="WHAT", help="job, BUILD, BUILD/PIECE or “shot 14”; all when left out"
    )
    figures.add_argument("--json", action="store_true", help="as JSON, in base units (m, kg, s, m³)")
    figures.add_argument("--imperial", action="store_true", help="in feet, inches, pounds")
    figures.add_argument("--brief", action="store_true", help="without the why")

    folder(command("recover", "put the newest good copy in place of a damaged job", _recover))

    take = command("take-in", "take in what the window takes by drop: meshes, lists of shots, edit lists, a logger’s "
                   "temperatures, pictures", _take_in)  # fmt: skip
    folder(take)
    take.add_argument("files", metavar="FILE", type=Path, nargs="+")
    take.add_argument("--for", dest="whose", default="", metavar="WHAT",
                      help="BUILD or BUILD/PIECE whose form a mesh becomes, the first build’s first piece when left out; "
                           "or the SHOT that must end as a picture shows, or BUILD/PIECE under which it lies to be traced")  # fmt: skip
    take.add_argument(
        "--unit",
        default="",
        metavar="UNIT",
        help="mm, cm, m, in or ft: what a mesh was drawn in; guessed from its size",
    )
    take.add_argument("--imperial", action="store_true", help="read and say sizes in feet and inches")
    take.add_argument(
        "--pieces", action="store_true", help="tables are lists of pieces; rows that name no build are of --for BUILD"
    )

    out = command(
        "write-out",
        "write the pieces or the shots to a table (CSV, XLSX), or of one shot its stage plan (SVG, DXF), measuring card or cues (CSV)",
        _write_out,
    )
    folder(out)
    out.add_argument("file", metavar="FILE", type=Path)
    out.add_argument("--what", choices=("pieces", "shots", "stage", "card", "cues"), default="pieces")
    out.add_argument("--of", default="", metavar="SHOT", help="whose stage, card or cues")

    do = command(
        "do",
        "run lines that edit the job, one change each: builds and pieces, and any field of theirs; see docs/lines.md",
        _do,
    )
    folder(do)
    do.add_argument("lines", metavar="FILE", help="a file of lines, or - for standard input")

    way = command(
        "way", "make a piece as a card of the library has it: its mould where it had another, and its usual route", _way
    )
    folder(way)
    way.add_argument("whose", metavar="BUILD/PIECE")
    way.add_argument(
        "way", metavar="WAY", help="jacketed, block, rigid, by-hand, carved, printed or bought: a file in library/ways"
    )

    shop = command("shop", "say the shop’s hours and days off, or set them", _shop)
    folder(shop)
    shop.add_argument("--hours", metavar="HOURS", help="as “09:00 to 18:00, Mon to Fri”")
    shop.add_argument("--days-off", metavar="DAYS", help="as “2026-04-03, 2026-12-24 to 2026-12-31”")
    shop.add_argument("--country", metavar="PT", help="write its public holidays into the days off")
    shop.add_argument("--zone", metavar="ZONE", help="by which clocks are put forward, as Europe/Lisbon")

    _shelf_commands(
        command("shelf", "the shop’s own cards: find, show, edit, tables in and out, take into a job", _shelf), folder
    )

    command(
        "practice-scale", "be a scale: print the device to weigh with, take orders on standard input", _practice_scale
    )
    return parser, commands.choices


def _shelf_commands(of: argparse.ArgumentParser, folder: Callable[[argparse.ArgumentParser], None]) -> None:
    """What the command for the shelf does, each by a word of its own."""
    actions = of.add_subparsers(title="what to do", metavar="ACTION", required=True)

    def action(name: str, about: str) -> argparse.ArgumentParser:
        made = actions.add_parser(name, help=about, description=about, allow_abbrev=False)
        made.set_defaults(action=name)
        return made

    find = action("find", "list the cards that all words tell of")
    find.add_argument("words", metavar="WORD", nargs="*")
    find.add_argument("--sort", default="", help="materials, cameras, lenses, people, ovens …")
    show = action("show", "print a card’s sheet, or two beside each other")
    show.add_argument("key", metavar="SORT/ID")
    show.add_argument("other", metavar="SORT/ID", nargs="?", default="")
    show.add_argument("--imperial", action="store_true")
    action("do", "run lines that edit the shelf; see docs/lines.md").add_argument(
        "lines", metavar="FILE", help="a file of lines, or -"
    )
    take_in = action("take-in", "take cards in from tables (CSV, XLSX)")
    take_in.add_argument("files", metavar="FILE", type=Path, nargs="+")
    take_in.add_argument("--sort", default="materials")
    take_in.add_argument("--imperial", action="store_true")
    out = action("write-out", "write all cards of a sort to a table (CSV, XLSX)")
    out.add_argument("file", metavar="FILE", type=Path)
    out.add_argument("--sort", default="materials")
    newer = action("newer", "say what the shelf has newer than a job, and what following it would move")
    folder(newer)
    newer.add_argument("--imperial", action="store_true")
    for name, about in (
        ("take", "take cards into a job"),
        ("follow", "let a job follow the shelf in cards, in all when none is named"),
    ):
        one = action(name, about)
        folder(one)
        one.add_argument("keys", metavar="SORT/ID", nargs="+" if name == "take" else "*")
    action("recover", "put the newest good copy in place of a damaged shelf")


def _shelf(chosen: argparse.Namespace) -> int:
    from homunculus import shelving

    system: System = "imperial" if getattr(chosen, "imperial", False) else "metric"
    now = datetime.now()
    match chosen.action:
        case "find":
            said: Iterable[str] = shelving.find(" ".join(chosen.words), chosen.sort)
        case "show":
            said = shelving.show(chosen.key, chosen.other, system)
        case "do":
            text, where = _lines_of(chosen.lines)
            said = shelving.do_lines(text, where, now)
        case "take-in":
            said = shelving.take_in(chosen.files, chosen.sort, system, now)
        case "write-out":
            said = [shelving.write_out(chosen.file, chosen.sort)]
        case "newer":
            said = shelving.newer_of(chosen.folder, system)
        case "take":
            said = shelving.take(chosen.folder, chosen.keys, now)
        case "follow":
            said = shelving.follow(chosen.folder, chosen.keys, now)
        case _:
            said = [shelving.recover()]
    for line in said:
        print(line)
    return 0


def _moment(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text}” is not a moment such as 2026-02-24T09:10") from None


# What a command needs is loaded when it runs: the window must not pay for figures, nor figures for the window.
def _figures(chosen: argparse.Namespace) -> int:
    from homunculus import report

    for line in report.lines(chosen.folder, of=chosen.of, as_json=chosen.json, brief=chosen.brief,
                             system="imperial" if chosen.imperial else "metric"):  # fmt: skip
        print(line)
    return 0


def _recover(chosen: argparse.Namespace) -> int:
    from homunculus.store.folder import recover

    print(recover(chosen.folder))
    return 0


def _take_in(chosen: argparse.Namespace) -> int:
    from homunculus.taking_in import take_in

    system: System = "imperial" if chosen.imperial else "metric"
    for line in take_in(
        chosen.folder, chosen.files, chosen.whose, chosen.unit, datetime.now(), system, pieces=chosen.pieces
    ):
        print(line)
    return 0


def _write_out(chosen: argparse.Namespace) -> int:
    from homunculus.taking_in import write_out, write_stage

    if chosen.what in ("stage", "card", "cues"):
        print(write_stage(chosen.folder, chosen.file, chosen.what, chosen.of))
    else:
        print(write_out(chosen.folder, chosen.file, chosen.what))
    return 0


def _do(chosen: argparse.Namespace) -> int:
    from homunculus.doing import do_lines

    text, where = _lines_of(chosen.lines)
    for line in do_lines(chosen.folder, text, where, datetime.now()):
        print(line)
    return 0


def _lines_of(name: str) -> tuple[str, str]:
    """The lines of a file, or of standard input for a stroke, and what they are called in messages."""
    from homunculus.store.atomic import read_bounded

    if name == "-":
        where, data = "standard input", sys.stdin.buffer.read(MOST_BYTES + 1)
        if len(data) > MOST_BYTES:
            raise UserError("There are more lines than can be run at once", where, "Run them in parts")
    else:
        where, data = name, read_bounded(Path(name), MOST_BYTES, "The file of lines")
    return data.decode("utf-8-sig", "replace"), where


def _way(chosen: argparse.Namespace) -> int:
    from homunculus import report

    print(report.make_by(chosen.folder, chosen.whose, chosen.way, datetime.now()))
    return 0


def _shop(chosen: argparse.Namespace) -> int:
    from homunculus.shop_setting import set_shop

    wanted = {
        "--hours": chosen.hours,
        "--days-off": chosen.days_off,
        "--country": chosen.country,
        "--zone": chosen.zone,
    }
    for line in set_shop(chosen.folder, {k: v for k, v in wanted.items() if v is not None}, datetime.now()):
        print(line)
    return 0


def _practice_scale(_: argparse.Namespace) -> int:
    from homunculus.devices import practice_scale

    return practice_scale.main()


def _open(chosen: argparse.Namespace) -> int:
    from homunculus.store.recent import recent

    if chosen.folder:
        return _window(chosen.folder, chosen)
    return _start(chosen) if recent() else _demo(chosen)  # the first time the demo shows what there is


def _start(chosen: argparse.Namespace) -> int:
    from homunculus.app.start import open_start

    return open_start(chosen.now, chosen.theme, new=getattr(chosen, "new", False))


def _demo(chosen: argparse.Namespace) -> int:
    from homunculus import demo

    now = chosen.now or datetime.now()
    return _window(demo.open_copy(now.date(), reset=getattr(chosen, "reset", False)), chosen)


def _new(chosen: argparse.Namespace) -> int:
    from homunculus.store.new_job import new_job

    return _window(new_job(chosen.folder, chosen.name, chosen.now or datetime.now()), chosen)


def _window(folder: Path, chosen: argparse.Namespace) -> int:
    gc.disable()  # opening makes much and drops little; when the window stands the collector runs at rest
    from homunculus.app.start import open_window  # Qt only when a window is wanted

    return open_window(folder, now=chosen.now, theme=chosen.theme)


if __name__ == "__main__":
    sys.exit(main())
