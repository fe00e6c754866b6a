"""The command line: open the window, print figures, study meshes, reset the demo.

Exit codes: 0 done, 1 a matter that a sentence on standard error explains, 2 the command was not understood.
"""

from __future__ import annotations

import gc
import sys
from datetime import datetime
from pathlib import Path

from homunculus import __version__
from homunculus.core.errors import UserError
from homunculus.core.quantities import System

USAGE = """\
homunculus: a workshop drawing that answers back

  homunculus                     open the demo job (your own copy of it)
  homunculus JOB_FOLDER          open a job
  homunculus demo --reset        put your copy of the demo aside, open a fresh one
  homunculus new JOB_FOLDER NAME make an empty job and open it
  homunculus figures JOB_FOLDER  print every reckoned figure, with unit and why
      --json                     as JSON, in base units (m, kg, s, m³)
      --build NAME               of one build only
      --imperial                 in feet, inches, pounds
      --brief                    without the why
  homunculus recover JOB_FOLDER  put the newest good copy in place of a damaged job
  homunculus take-in JOB_FOLDER FILE ...
                                 take in what the window takes by drop: meshes, lists of shots,
                                 edit lists, a logger's temperatures, pictures
      --for BUILD[/PIECE]        whose form a mesh becomes; the first build's first piece when left out
      --for SHOT                 which shot must end as a picture shows
      --unit mm|cm|m|in|ft       what it was drawn in; guessed from its size when left out
  homunculus shop JOB_FOLDER     say the shop's hours and days off, or set them
      --hours "09:00 to 18:00, Mon to Fri"
      --days-off "2026-04-03, 2026-12-24 to 2026-12-31"
      --country PT               write its public holidays into the days off
      --zone Europe/Lisbon       by which zone clocks are put forward
  homunculus practice-scale      be a scale: print the device to weigh with, take orders on standard input
  homunculus --help              this
  homunculus --version           the version

  --now 2026-02-24T09:10         take this as the present moment (window)
  --theme plaster|stage          colours (window)
"""


def main(arguments: list[str] | None = None) -> int:
    """Run a command line and return its exit code.

    Parameters
    ----------
    arguments
        Without the program's name; those of the process when left out.
    """
    words = list(sys.argv[1:] if arguments is None else arguments)
    try:
        if words and words[0] in ("--help", "-h", "help"):
            print(USAGE, end="")
            return 0
        if words and words[0] == "--version":
            print(f"homunculus {__version__}")
            return 0
        if words and words[0] == "figures":
            return _figures(words[1:])
        if words and words[0] == "recover":
            return _recover(words[1:])
        if words and words[0] == "take-in":
            return _take_in(words[1:])
        if words and words[0] == "shop":
            return _shop(words[1:])
        if words == ["practice-scale"]:
            from homunculus.devices import practice_scale

            return practice_scale.main()
        return _window(words)
    except UsageTrouble as trouble:
        print(f"homunculus: {trouble}\n\n{USAGE}", end="", file=sys.stderr)
        return 2
    except UserError as trouble:
        print(f"homunculus: {trouble}", file=sys.stderr)
        return 1
    except BrokenPipeError:
        sys.stderr.close()  # whoever read us has had enough; saying so would go to the same closed pipe
        return 0


class UsageTrouble(Exception):  # noqa: N818  (a sentence for the person who typed)
    """The command line was not understood."""


def _take(words: list[str], known: dict[str, bool]) -> tuple[list[str], dict[str, str]]:
    """Part words into plain ones and options; ``known`` says which options take a value."""
    plain, options, waiting = [], {}, list(words)
    while waiting:
        word = waiting.pop(0)
        name, has_value, value = word.partition("=")
        if not word.startswith("--"):
            plain.append(word)
        elif name not in known:
            raise UsageTrouble(f"there is no option {name}")
        elif not known[name]:
            options[name] = "yes"
        elif has_value:
            options[name] = value
        elif waiting:
            options[name] = waiting.pop(0)
        else:
            raise UsageTrouble(f"{name} needs a value")
    return plain, options


def _figures(words: list[str]) -> int:
    plain, options = _take(words, {"--json": False, "--build": True, "--imperial": False, "--brief": False})
    if len(plain) != 1:
        raise UsageTrouble("figures needs one job folder")
    from homunculus import report  # the window must not pay for what it does not use

    for line in report.lines(
        Path(plain[0]), build=options.get("--build", ""), as_json="--json" in options,
        system="imperial" if "--imperial" in options else "metric", brief="--brief" in options,
    ):  # fmt: skip
        print(line)
    return 0


def _recover(words: list[str]) -> int:
    plain, _ = _take(words, {})
    if len(plain) != 1:
        raise UsageTrouble("recover needs one job folder")
    from homunculus.store.folder import recover

    print(recover(Path(plain[0])))
    return 0


def _take_in(words: list[str]) -> int:
    plain, options = _take(words, {"--unit": True, "--imperial": False, "--for": True})
    if len(plain) < 2:
        raise UsageTrouble("take-in needs a job folder and a file")
    from homunculus.taking_in import take_in

    system: System = "imperial" if "--imperial" in options else "metric"
    files = [Path(name) for name in plain[1:]]
    for line in take_in(
        Path(plain[0]), files, options.get("--for", ""), options.get("--unit", ""), datetime.now(), system
    ):
        print(line)
    return 0


def _shop(words: list[str]) -> int:
    plain, options = _take(words, {"--hours": True, "--days-off": True, "--country": True, "--zone": True})
    if len(plain) != 1:
        raise UsageTrouble("shop needs one job folder")
    from homunculus.shop_setting import set_shop

    for line in set_shop(Path(plain[0]), options, datetime.now()):
        print(line)
    return 0


def _window(words: list[str]) -> int:
    plain, options = _take(words, {"--now": True, "--theme": True, "--reset": False})
    try:
        now = datetime.fromisoformat(options["--now"]) if "--now" in options else None
    except ValueError:
        raise UsageTrouble(f"“{options['--now']}” is not a moment such as 2026-02-24T09:10") from None
    if options.get("--theme", "plaster") not in ("plaster", "stage"):
        raise UsageTrouble("--theme is plaster or stage")
    folder = _folder(plain, now or datetime.now(), reset="--reset" in options)
    gc.disable()  # opening makes much and drops little; the collector comes back when the window stands
    from homunculus.app.start import open_window  # Qt only when a window is wanted

    return open_window(folder, now=now, theme=options.get("--theme"))


def _folder(plain: list[str], now: datetime, *, reset: bool) -> Path:
    if not plain or plain == ["demo"]:
        from homunculus import demo

        return demo.open_copy(now.date(), reset=reset)
    if plain[0] == "new":
        if len(plain) != 3:
            raise UsageTrouble("new needs a folder and a name")
        from homunculus import report

        return report.new_job(Path(plain[1]), plain[2], now)
    if len(plain) != 1 or reset:
        raise UsageTrouble("name one job folder")
    return Path(plain[0])


if __name__ == "__main__":
    sys.exit(main())
