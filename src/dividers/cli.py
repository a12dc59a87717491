"""The command line: plan, keys, serve, demo, passphrase, export, import, backup, restore and check."""

import argparse
import os
import sys
from collections.abc import Sequence
from contextlib import closing
from importlib.metadata import version
from pathlib import Path
from typing import TYPE_CHECKING

from dividers.core.base.errors import BadJob, DividersError

if TYPE_CHECKING:
    from dividers.core.plan.plan import Plan

DEFAULT_PORT = 8640
HOST = "127.0.0.1"


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code: 0 done, 2 a bad job or call, 1 anything else that has a message."""
    parser = _parser()
    options = parser.parse_args(arguments)
    try:
        code: int = options.run(options)
    except BadJob as bad:
        for fault in bad.faults:
            print(fault, file=sys.stderr)
        return 2
    except (DividersError, OSError) as error:
        print(error, file=sys.stderr)
        return 2 if isinstance(error, DividersError) else 1
    return code


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="dividers", description="Lays out painted patterns: measuring, marks, tape, schedule and materials."
    )
    parser.add_argument("--version", action="version", version=f"dividers {version('dividers')}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    usual = _usual_data()

    plan = commands.add_parser("plan", help="print the plan of a job file as JSON")
    plan.add_argument("job", type=Path, help="the job file (JSON), or - for standard input")
    plan.add_argument("--schedule", action="store_true", help="with the schedule solved")
    plan.set_defaults(run=_plan)

    keys = commands.add_parser("keys", help="print every key that a job file may have, as tables")
    keys.set_defaults(run=_keys)

    for name, run, help_text in (
        ("serve", _serve, "start the web application"),
        ("demo", _demo, "load the sample job and start"),
    ):
        command = commands.add_parser(name, help=help_text)
        command.add_argument("--data", type=Path, default=usual, help="folder of the database (default: %(default)s)")
        command.add_argument("--port", type=int, default=DEFAULT_PORT, help="default: %(default)s")
        command.add_argument(
            "--share", action="store_true", help="let phones and computers of this network in (needs a passphrase)"
        )
        command.add_argument(
            "--name", action="append", default=[], help="another name that this machine is called by in the network"
        )
        command.add_argument(
            "--tls", action="store_true", help="encrypt: https at the next port, vouched for by an authority of its own"
        )
        command.add_argument("--ask-here", action="store_true", help="ask this machine's own browser for the passphrase too")
        command.set_defaults(run=run)
        if name == "demo":
            command.add_argument("--fresh", action="store_true", help="reset the sample job; changes made to it are lost")
            command.add_argument("--only-load", action="store_true", help="load the sample job, don't start")

    word = commands.add_parser("passphrase", help="set the passphrase that opens Dividers from elsewhere")
    word.add_argument("--data", type=Path, default=usual, help="folder of the database (default: %(default)s)")
    word.set_defaults(run=_passphrase)

    export = commands.add_parser("export", help="print a job as a job file; without a number, list the jobs")
    export.add_argument("number", type=int, nargs="?", help="the job's number")
    export.add_argument("--data", type=Path, default=usual)
    export.set_defaults(run=_export)

    bring = commands.add_parser("import", help="add a job file to Jobs")
    bring.add_argument("job", type=Path)
    bring.add_argument("--data", type=Path, default=usual)
    bring.set_defaults(run=_import)

    save = commands.add_parser("backup", help="save all data in one zip; also while Dividers runs")
    save.add_argument("file", type=Path, nargs="?", help="where to; without it into the folder backups of the data")
    save.add_argument("--data", type=Path, default=usual)
    save.set_defaults(run=_backup)

    bring_back = commands.add_parser("restore", help="put a backup in the place of the data; what was there is kept")
    bring_back.add_argument("file", type=Path)
    bring_back.add_argument("--data", type=Path, default=usual)
    bring_back.set_defaults(run=_restore)

    check = commands.add_parser("check", help="look whether the data are sound; changes nothing")
    check.add_argument("--data", type=Path, default=usual)
    check.set_defaults(run=_check)

    stand_in = commands.add_parser("stand-in", help="send readings to a running Dividers, as a device would")
    stand_in.add_argument("device", choices=("range-finder", "hygrometer", "laser"))
    stand_in.add_argument("--to", default=f"http://{HOST}:{DEFAULT_PORT}/device", help="default: %(default)s")
    stand_in.add_argument("--token", required=True, help="from the page Devices")
    stand_in.add_argument("--length", type=float, default=2413.0, help="the true length, in mm (default: %(default)s)")
    stand_in.add_argument("--many", type=int, default=1, help="how many readings, or sweeps (default: %(default)s)")
    stand_in.add_argument("--every", type=float, default=2.0, help="seconds between them (default: %(default)s)")
    stand_in.add_argument("--seed", type=int, default=1, help="another number gives other noise")
    stand_in.set_defaults(run=_stand_in)
    return parser


def _usual_data() -> Path:
    """Where data live: as DIVIDERS_DATA says, else in `data` where there is one already, else where the system keeps such things."""
    from platformdirs import user_data_path

    if said := os.environ.get("DIVIDERS_DATA"):
        return Path(said)
    here = Path("data")
    return here if (here / "dividers.sqlite").exists() else user_data_path("dividers", appauthor=False)


def _keys(_: argparse.Namespace) -> int:
    from dividers.core.job_file.key_table import key_table

    sys.stdout.write(key_table())
    return 0


def _plan(options: argparse.Namespace) -> int:
    from dividers.core.job_file.job_reader import parse_job
    from dividers.core.plan.plan import plan_job
    from dividers.core.plan.plan_document import plan_text

    content = sys.stdin.buffer.read() if str(options.job) == "-" else options.job.read_bytes()
    job = parse_job(content)
    for warning in job.warnings:
        print(f"note: {warning}", file=sys.stderr)
    plan = plan_job(job)
    sys.stdout.write(plan_text(plan, _scheduled(plan, options.schedule)))
    return 0


def _scheduled(plan: "Plan", scheduled: bool) -> dict[str, object]:
    """The pieces with their forecasts, and the schedule where it is asked for."""
    from dividers.core.order.schedule import schedule_of, start_of
    from dividers.core.order.schedule_document import add_areas, forecast_document, schedule_document
    from dividers.core.order.tasks import work_of
    from dividers.core.plan.plan_document import plan_document

    schedule = schedule_of(plan) if scheduled else None
    choices = schedule.work.choices if schedule else work_of(plan, start_of(plan.job)).choices
    pieces = plan_document(plan)["pieces"]
    for piece, own in zip(pieces, plan.pieces, strict=True):
        made = choices.get(own.piece.key, ())
        piece["forecast"] = forecast_document(made)
        add_areas(piece["rounds"], own, made)
    return {"pieces": pieces} | ({"schedule": schedule_document(schedule)} if schedule else {})


def _export(options: argparse.Namespace) -> int:
    from dividers.services.jobs import job_list
    from dividers.services.opening import open_data

    with closing(open_data(options.data)) as connection:
        if options.number is None:
            for row in job_list.list_jobs(connection):
                print(f"{row.id}\t{row.title}")
        else:
            sys.stdout.write(job_list.export_job(connection, options.number))
    return 0


def _import(options: argparse.Namespace) -> int:
    from dividers.services.jobs import job_list
    from dividers.services.opening import open_data

    with closing(open_data(options.data)) as connection:
        number, job = job_list.import_job(connection, options.job.read_bytes())
    for warning in job.warnings:
        print(f"note: {warning}", file=sys.stderr)
    print(f"{number}\t{job.title}")
    return 0


def _backup(options: argparse.Namespace) -> int:
    from dividers.services.keeping.backups import backup

    made = backup(options.data, options.file)
    print(f"{made.path}: the database and {made.photos} photos. The keys of this machine are not in it.")
    for name in made.missing:
        print(f"missing, and left out: photos/{name}", file=sys.stderr)
    return 0


def _restore(options: argparse.Namespace) -> int:
    from dividers.services.keeping.backups import restore
    from dividers.services.one_at_a_time import alone

    options.data.mkdir(parents=True, exist_ok=True)
    with alone(options.data, "serving", wait=False):
        kept = restore(options.file, options.data)
    print(f"Restored to {options.data}." + (f" What was there is in {kept}." if kept else ""))
    return 0


def _check(options: argparse.Namespace) -> int:
    from dividers.services.keeping.health import faults_in

    faults = faults_in(options.data)
    print("\n".join(faults) if faults else "All is well: database, jobs and photos.")
    return 1 if faults else 0


def _stand_in(options: argparse.Namespace) -> int:
    """Send what a device would; 0 where all of it was taken."""
    from dividers.devices.sending import send_all

    return send_all(options.device, options.to, options.token, options.length, options.many, options.every, options.seed)


def _demo(options: argparse.Namespace) -> int:
    from dividers.services.jobs.demo import load_demo
    from dividers.services.opening import open_data

    with closing(open_data(options.data)) as connection:
        load_demo(connection, fresh=options.fresh)
    return 0 if options.only_load else _serve(options)


def _passphrase(options: argparse.Namespace) -> int:
    """Ask for a passphrase twice, or read one line where nobody can be asked."""
    from getpass import getpass

    from dividers.core.base.errors import BadInput
    from dividers.services.access.letting_in import set_passphrase
    from dividers.services.opening import open_data

    if sys.stdin.isatty():
        text = getpass("New passphrase: ")
        if getpass("Again: ") != text:
            raise BadInput("These two differ; nothing was changed.")
    else:
        text = sys.stdin.readline().rstrip("\r\n")
    with closing(open_data(options.data)) as connection:
        set_passphrase(connection, text)
    print("The passphrase is set. Sessions by the one before are over.")
    return 0


def _serve(options: argparse.Namespace) -> int:
    """Serve until SIGTERM or Ctrl-C; requests in flight are finished first."""
    from dividers.web.serving.start import Launch, start

    return start(Launch(options.data, options.port, options.share, options.name, options.tls, options.ask_here))


if __name__ == "__main__":
    sys.exit(main())
