"""The ``setback`` command."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from datetime import datetime
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from . import __version__
from .serving.user_commands import commands as user_commands

if TYPE_CHECKING:
    from .serving.to_whom import Serving

ADDRESS = "127.0.0.1"
PORT = 8350


def default_db() -> Path:
    from platformdirs import user_data_path

    return user_data_path("setback") / "setback.db"


db_option = click.option(
    "--db", type=click.Path(path_type=Path, dir_okay=False), envvar="SETBACK_DB", help="Database file."
)
port_option = click.option("--port", type=click.IntRange(1, 65535), default=PORT, show_default=True)


@click.group()
@click.version_option(__version__, prog_name="setback")
@click.option(
    "--log-level",
    type=click.Choice(["DEBUG", "INFO", "WARNING", "ERROR"]),
    default="WARNING",
    envvar="SETBACK_LOG_LEVEL",
    show_default=True,
    help="The least that is written to standard error.",
)
def main(log_level: str) -> None:
    """Calibrate, test and qualify materials for resin printing."""
    from .logs import set_up

    set_up(log_level)


@main.command()
@click.argument("name", required=False)
@click.argument("file", required=False)
@click.option("--schema", is_flag=True, help="Print the JSON Schema of input and output.")
def calc(name: str | None, file: str | None, schema: bool) -> None:
    """Run a calculator on a JSON FILE (- reads standard input); without NAME, list them."""
    from .core import calculators
    from .core.contract import Problem

    if name is None:
        for calculator in calculators.CALCULATORS.values():
            click.echo(f"{calculator.name:18}{calculator.summary}")
        return
    try:
        if name not in calculators.CALCULATORS:
            message = f"There is no calculator called {name}. Run setback calc for the list."
            raise Problem(message, {"name": message})
        if schema:
            click.echo(json.dumps(calculators.schema(name), indent=2))
            return
        click.echo(json.dumps(calculators.run_text(name, _text(file)), indent=2))
    except Problem as problem:
        click.echo(json.dumps({"error": {"message": problem.message, "fields": problem.fields}}), err=True)
        sys.exit(2)


def _text(file: str | None) -> str:
    from .core.contract import Problem

    if file is None:
        raise Problem("Give a JSON file, or - for standard input.", {"file": "This is needed."})
    try:
        return sys.stdin.read() if file == "-" else Path(file).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise Problem(f"{file} cannot be read: {error}.", {"file": str(error)}) from None


@main.command("stand-in")
@click.argument("kind", type=click.Choice(["probe", "light meter", "caliper", "force gauge", "scale"]))
@click.option("--port", type=click.IntRange(1, 65535), help="Answer over HTTP at this port of this machine.")
@click.option("--value", type=float, help="What it shows at first.")
def stand_in(kind: str, port: int | None, value: float | None) -> None:
    """A simulated instrument of the bench, to try things out: over HTTP with --port, else over a serial line of its own.

    Each line on standard input presses its button; a number on it is what it shows from then on.
    """
    from .simulate.instruments import OverHttp, OverSerial, StandIn

    shown = StandIn(kind, value)
    if port is None and kind not in ("caliper", "scale"):
        raise click.ClickException(f"A {kind} answers over HTTP: give --port.")
    with OverHttp(shown, port) if port is not None else OverSerial(shown) as link:
        click.echo(f"A simulated {kind} answers at {link.address}. Enter presses its button.")
        for line in sys.stdin:
            number = line.strip()
            try:
                link.press(float(number) if number else None)
            except ValueError:
                click.echo("Give a number, or nothing.")
                continue
            click.echo(f"It shows {shown.value:g}.")


@main.command()
@db_option
@port_option
@click.option("--host", help="Serve a workshop at this address of the machine; needs accounts and a certificate.")
@click.option("--certificate", type=click.Path(path_type=Path, dir_okay=False), help="Its certificate, PEM.")
@click.option("--key", "key_file", type=click.Path(path_type=Path, dir_okay=False), help="The certificate's key, PEM.")
@click.option("--behind-proxy", is_flag=True, help="A proxy on this machine has the certificate: nginx, Caddy.")
@click.option("--name", "names", multiple=True, help="Another name it is opened by; may be given several times.")
def serve(
    db: Path | None,
    port: int,
    host: str | None,
    certificate: Path | None,
    key_file: Path | None,
    behind_proxy: bool,
    names: tuple[str, ...],
) -> None:
    """Serve your own data at http://127.0.0.1:8350, or a workshop's with --host."""
    from .demo import clock_of
    from .serving.to_whom import Refused, Serving, to_workshop
    from .store.one_server import is_served

    path = db or default_db()
    if bool(certificate) != bool(key_file):
        raise click.ClickException("Give --certificate and --key together.")
    serving = Serving(ADDRESS, port, None, None)
    if host or behind_proxy:
        files = (certificate, key_file) if certificate and key_file else None
        if is_served(path):
            raise click.ClickException(f"A server has {path} open. Stop it first; nothing was changed.")
        _bring_up_to_date(path)
        try:
            serving = to_workshop(
                path, host or ADDRESS, port, certificate=files, behind_proxy=behind_proxy, names=names
            )
        except Refused as error:
            raise click.ClickException(str(error)) from None
    elif certificate or names:
        raise click.ClickException("--certificate, --key and --name go with --host: without it one person is served.")
    clock = clock_of(path) if path.exists() else None
    if clock is not None:
        click.echo(f"{path} is a demo: its clock goes on from where its story ends.")
        _serve(path, serving, clock=clock, demo=True)
        return
    _serve(path, serving)


def _bring_up_to_date(path: Path) -> None:
    from .store.database import can_be_written, migrate

    if path.is_file() and can_be_written(path):
        _opened(path, migrate)


@main.command("tls-certificate")
@click.argument("names", nargs=-1)
@db_option
@click.option("--new-authority", is_flag=True, help="Begin anew: every phone has to be told again.")
def tls_certificate(names: tuple[str, ...], db: Path | None, new_authority: bool) -> None:
    """Make a certificate for NAMES (bench.local, 192.168.7.20) by an authority of the lab's own.

    Without NAMES it is for where QR codes lead. The same command makes a new one before the old one runs out.
    """
    from datetime import UTC
    from urllib.parse import urlsplit

    from .services.lab_settings import lab_settings
    from .services.unit_of_work import UnitOfWork
    from .serving import tls
    from .store.database import connect

    path = _existing(db or default_db())
    connection = connect(path)
    settings = lab_settings(UnitOfWork(connection))
    connection.close()
    usual = urlsplit(settings.base_address).hostname
    try:
        made = tls.make(
            tls.folder_of(path),
            names or ((usual,) if usual else ()),
            settings.name,
            datetime.now(UTC),
            new_authority=new_authority,
        )
    except tls.Unusable as error:
        raise click.ClickException(str(error)) from None
    click.echo(
        f"The certificate is in {made.certificate}, valid until {made.ends:%Y-%m-%d}; setback serve --host finds it."
    )
    if made.is_new_authority:
        click.echo(f"Phones trust it once they have {made.authority}: docs/operations.md has the steps.")


@main.command()
@db_option
@port_option
@click.option("--no-serve", is_flag=True, help="Build the demo file and exit.")
@click.option("--years", type=click.IntRange(1, 20), help="Many years of a busy shop instead, for measuring.")
@click.option("--on", type=click.DateTime(["%Y-%m-%d"]), help="The day its story ends; today unless given.")
@click.option(
    "--beside", is_flag=True, hidden=True, help="Ends with the process whose input it reads, and may be closed."
)
def demo(db: Path | None, port: int, no_serve: bool, years: int | None, on: datetime | None, beside: bool) -> None:
    """Build a fresh copy of the Skerry Point demo and serve it."""
    from multiprocessing import get_context

    from .demo import is_demo, story_end, ten_years
    from .serving.to_whom import Serving
    from .store.maintenance import files_of
    from .store.one_server import is_served

    path = db or default_db().with_name("demo.db")
    if is_served(path):
        raise click.ClickException(f"A server has {path} open. Stop it first, or name another file with --db.")
    now = ten_years.moment() if years else story_end(on)
    if path.exists() and not is_demo(path):
        raise click.ClickException(f"{path} is no demo: it may be your own data. Name another file with --db.")
    for stale in files_of(path):
        stale.unlink(missing_ok=True)
    # In a process of its own, so that the server does not keep the memory that the building took.
    builder = get_context("spawn").Process(target=_build_demo, args=(path, years, now))
    builder.start()
    if beside:
        _end_with_input(builder)
    builder.join()
    if builder.exitcode:
        raise click.ClickException("The demo could not be built.")
    click.echo(f"The Skerry Point demo is in {path}")
    if not no_serve:
        started = datetime.now(now.tzinfo)

        def clock() -> datetime:
            return now + (datetime.now(now.tzinfo) - started)

        _serve(path, Serving(ADDRESS, port, None, None), clock=clock, demo=True, closes=beside)


def _end_with_input(builder: BaseProcess) -> None:
    """End when standard input does, and what is still built with it: the other side is the process that wanted this one."""
    import os
    import signal
    import threading

    def wait() -> None:
        sys.stdin.read()
        if builder.is_alive():
            builder.terminate()
        os.kill(os.getpid(), signal.SIGTERM)

    threading.Thread(target=wait, daemon=True).start()


def _build_demo(path: Path, years: int | None, now: datetime) -> None:
    from .demo import build, ten_years

    if years is None:
        build(path, now)
        return
    with click.progressbar(length=1000, label=f"{years} years") as bar:
        ten_years.build(path, years, now, lambda share: bar.update(int(1000 * share) - bar.pos))


def _serve(path: Path, serving: Serving, **options: Any) -> None:
    from .store.database import can_be_written
    from .store.one_server import ServedAlready
    from .store.one_server import serving as alone

    if not can_be_written(path):
        click.echo(f"{path} may not be written: everything can be looked at, nothing can be entered.", err=True)
        _serve_alone(path, serving, **options)
        return
    try:
        with alone(path, serving.address):
            _serve_alone(path, serving, **options)
    except ServedAlready as error:
        raise click.ClickException(str(error)) from None


def _serve_alone(path: Path, serving: Serving, **options: Any) -> None:
    """Serve until Ctrl-C or SIGTERM: requests finish, jobs are handed back, and all that was written is in the one file."""
    import signal

    from .api.app import create_app, shut
    from .logs import keep_in_file
    from .services.lab.demo_beside import DemoBeside
    from .serving import server as servers
    from .serving.memory import share_one_heap

    share_one_heap()
    app = _opened(path, create_app, chores=True, workshop=serving.workshop, **options)
    if not options.get("demo") and serving.workshop is None:
        app.extensions["demo_beside"] = DemoBeside()
    keep_in_file(path)
    for warning in (_altered(path), serving.warning):
        if warning:
            click.echo(f"Warning: {warning}", err=True)
    _warm_up()
    try:
        server = servers.make(app, serving.host, serving.port, tls=serving.tls)
    except servers.PortTaken as error:
        shut(app)
        raise click.ClickException(
            f"Port {serving.port} of {serving.host} is taken, or no address of this machine ({error}). "
            "Stop what runs there, or give --port."
        ) from None
    except BaseException:
        shut(app)
        raise
    click.echo(f"Setback is ready: {serving.address}")
    signal.signal(signal.SIGTERM, lambda *_: signal.raise_signal(signal.SIGINT))
    try:
        server.serve()
    except KeyboardInterrupt:
        pass
    finally:
        server.stop()
        shut(app)
    click.echo("Stopped.")


def _opened(path: Path, create_app: Callable[..., Any], **options: Any) -> Any:
    """The application over a file; what is wrong with the file in one sentence."""
    import sqlite3

    try:
        return create_app(path, **options)
    except RuntimeError as error:
        raise click.ClickException(str(error)) from None
    except sqlite3.OperationalError as error:
        raise click.ClickException(f"{path} cannot be opened for writing ({error}). Nothing was changed.") from None
    except sqlite3.DatabaseError:
        raise click.ClickException(
            f"{path} is damaged, or no database of Setback. Restore a backup; nothing was changed."
        ) from None
    except OSError as error:
        raise click.ClickException(f"{path} cannot be used ({error.strerror}). Nothing was changed.") from None


def _altered(path: Path) -> str | None:
    """What is wrong with the signed records, and what to do; the worker walks everything once the server runs."""
    from .services.lab.records import signed_records_fault
    from .store.database import connect

    connection = connect(path)
    try:
        fault = signed_records_fault(connection)
        return f"{fault} Do not rely on it or on later records; restore a backup." if fault else None
    finally:
        connection.close()


def _warm_up() -> None:
    """The first fit of a process loads the linear algebra; nobody should wait for that on a page."""
    from .core.calculators import CALCULATORS

    tips = [{"exposure_s": t, "tips": [{"size_mm": 0.4, "held": t > 2, "of": 1}]} for t in (1, 2, 3, 4)]
    CALCULATORS["process-window"]({"coupons": tips, "limits": {"tips_size_mm": 0.4}, "exposure_step_s": 0.1})


@main.command()
@db_option
@click.argument("target", type=click.Path(path_type=Path, dir_okay=False))
def backup(db: Path | None, target: Path) -> None:
    """Copy the database to TARGET while it may be in use."""
    from .store.maintenance import NotCopied, copy_to

    try:
        earlier = copy_to(_existing(db or default_db()), target)
    except NotCopied as error:
        raise click.ClickException(str(error)) from None
    click.echo(f"Saved to {target}" + (f"; the earlier copy is {earlier}" if earlier else ""))


@main.command()
@db_option
@click.argument("source", type=click.Path(path_type=Path, dir_okay=False, exists=True))
def restore(db: Path | None, source: Path) -> None:
    """Put SOURCE in place of the database; what was there is kept beside it."""
    from .store.maintenance import NotCopied, restore_from

    path = db or default_db()
    try:
        copy = restore_from(source, path)
    except NotCopied as error:
        raise click.ClickException(str(error)) from None
    click.echo(f"Restored {path}" + (f"; what was there is kept in {copy}" if copy else ""))


@main.command()
@db_option
@click.option(
    "--head", "heads", multiple=True, metavar="NUMBER:MARK", help="A head of the journal as a certificate has it."
)
@click.option(
    "--certificate",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Check a certificate or card (PDF) instead; without a database, by itself.",
)
@click.option(
    "--public-key", metavar="HEX", help="The lab's public key, for a certificate checked without its database."
)
def verify(db: Path | None, heads: tuple[str, ...], certificate: Path | None, public_key: str | None) -> None:
    """Check that no record of evidence was altered, or that a certificate is what was signed."""
    if certificate is not None:
        is_intact, report = _certified(certificate, db or default_db(), public_key)
    else:
        is_intact, report = _verified(_existing(db or default_db()), heads)
    if not is_intact:
        raise click.ClickException(report)
    click.echo(report)


@main.command()
@db_option
def rehearse(db: Path | None) -> None:
    """Put the newest automatic copy back in a scratch place, check all of it, and say how long that took."""
    from .store import journal
    from .store.database import connect
    from .store.maintenance import NotCopied, rehearsed

    path = _existing(db or default_db())
    try:
        with rehearsed(path) as rehearsal:
            is_intact, report = _verified(rehearsal.scratch)
            copy = connect(rehearsal.scratch)
            head = journal.head(copy)
            copy.close()
    except NotCopied as error:
        raise click.ClickException(str(error)) from None
    _, newest = _verified(path, (str(head),)) if head.seq else (True, "")
    if not is_intact:
        raise click.ClickException(f"{rehearsal.copy}: {report}")
    click.echo(f"{rehearsal.copy} was put back in {rehearsal.seconds:.1f} s. {report}")
    click.echo(f"It ends at entry {head} of the journal. Of the lab itself: {newest}")


@main.group()
def key() -> None:
    """The key this lab signs with: it lies beside the database, never in it."""


@key.command()
@db_option
def show(db: Path | None) -> None:
    """Print the public key, to be given to whoever checks certificates."""
    from .store import lab_key
    from .store.database import connect

    path = _existing(db or default_db())
    connection = connect(path)
    keys = lab_key.public_keys(connection)
    connection.close()
    if not keys:
        raise click.ClickException("This lab has no key yet: it is made when the server first starts.")
    click.echo(
        f"{keys[-1].public.hex()}\nname {keys[-1].id}, signs since {keys[-1].at}, private half in {lab_key.key_file(path)}"
    )


@key.command()
@db_option
def rotate(db: Path | None) -> None:
    """Begin a new key; the old one vouches for it and is kept under its name."""
    from .store import lab_key
    from .store.database import connect, writing
    from .store.one_server import is_served

    path = _existing(db or default_db())
    if is_served(path):
        raise click.ClickException(f"A server has {path} open. Stop it first; nothing was changed.")
    connection = connect(path)
    try:
        with writing(connection):
            new_key, old_file = lab_key.rotate(connection)
    except (lab_key.NoKey, OSError) as error:
        raise click.ClickException(str(error)) from None
    finally:
        connection.close()
    click.echo(f"The key {new_key.id} signs from now on; the one before it is kept in {old_file}")


@main.command("export")
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@db_option
def export_lab(file: Path, db: Path | None) -> None:
    """Write the whole lab as a ZIP of JSON and CSV."""
    from .services.files import bundles
    from .services.unit_of_work import UnitOfWork
    from .store.database import connect

    connection = connect(_existing(db or default_db()))
    manifest = bundles.write_to(UnitOfWork(connection), file, lambda share, message: None)
    connection.close()
    click.echo(
        f"{sum(t['rows'] for t in manifest['tables'].values())} records of {len(manifest['tables'])} tables are in {file}"
    )


@main.command("import")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--preview", is_flag=True, help="Say what it would do, and keep nothing.")
@db_option
def import_lab(file: Path, preview: bool, db: Path | None) -> None:
    """Take a bundle in, whole or not at all."""
    from .core.contract import Problem
    from .report.bundle import BadBundle
    from .services.files import bundles
    from .services.unit_of_work import Conflict, UnitOfWork
    from .store.database import connect, migrate

    path = db or default_db()
    migrate(path)
    connection = connect(path)
    quiet = lambda share, message: None  # noqa: E731
    try:
        bundle, work = bundles.opened(file), UnitOfWork(connection)
        summary = bundles.looked_at(work, bundle, quiet) if preview else bundles.import_from(work, bundle, quiet)
    except (BadBundle, Conflict, Problem) as error:
        raise click.ClickException(next(iter(getattr(error, "fields", {}).values()), str(error))) from None
    finally:
        connection.close()
    verb = "would be" if preview else "are"
    click.echo(
        f"{summary['new']} records {verb} new, {summary['same']} the same, {summary['conflicting']} in conflict."
    )


def _verified(path: Path, heads: tuple[str, ...] = ()) -> tuple[bool, str]:
    """Everything, against heads that somebody kept and those of the automatic copies."""
    from .services.lab import records
    from .store.database import connect
    from .store.journal import read_head

    read_heads = [("What you have", read_head(head)) for head in heads]
    if not all(head for _, head in read_heads):
        raise click.ClickException("A head looks like 1234:0123456789abcdef, as it stands on a certificate.")
    connection = connect(path)
    summary = records.walk(
        connection, lambda share, message: None, [(where, head) for where, head in read_heads if head]
    )
    connection.close()
    lines = [summary["words"], *summary["faults"][1:], *summary["notes"]]
    return bool(summary["intact"]), "\n".join(lines)


def _certified(file: Path, path: Path, public_key: str | None) -> tuple[bool, str]:
    """A certificate by itself, or against the database where there is one."""
    from .services.lab import records
    from .store.database import connect

    try:
        public = bytes.fromhex(public_key) if public_key else None
    except ValueError:
        raise click.ClickException("A public key is 64 digits, as setback key show prints it.") from None
    connection = connect(path) if path.is_file() and public is None else None
    checked = records.check_file(file.read_bytes(), connection, public)
    if connection is not None:
        connection.close()
    return checked.genuine, f"{file.name}: {checked.words}"


def _sizes(_: click.Context, __: click.Parameter, request: str | None) -> list[float] | None:
    """``0.1,0.2,0.3``"""
    if request is None:
        return None
    try:
        return [float(part) for part in request.split(",")]
    except ValueError:
        raise click.BadParameter("give numbers with commas between them, like 0.1,0.2,0.3") from None


def _plate(_: click.Context, __: click.Parameter, request: str | None) -> tuple[float, float] | None:
    """``153x87``"""
    if request is None:
        return None
    sides = request.lower().split("x")
    try:
        return float(sides[0]), float(sides[1])
    except (ValueError, IndexError):
        raise click.BadParameter("give both sides in mm, like 153x87") from None


@main.command()
@click.argument("kind")
@click.option("--format", "file_format", type=click.Choice(["stl", "3mf", "masks", "svg", "layers"]), required=True)
@click.option("--output", type=click.Path(path_type=Path, dir_okay=False), required=True)
@click.option("--pixel-um", type=float, default=35, show_default=True, help="The printer's pixel.")
@click.option("--layer-um", type=float, default=50, show_default=True, help="Layer height.")
@click.option("--base-layers", type=int, default=4, show_default=True)
@click.option("--transition-layers", type=int, default=3, show_default=True)
@click.option("--base-exposure", "base_exposure_s", type=float, help="Ten exposures when not given, s.")
@click.option("--thickness-mm", type=float, help="Whole thickness; the coupon's own when not given.")
@click.option("--walls", "walls_mm", callback=_sizes, help="Walls of the flat coupon, mm: 0.1,0.2,0.3")
@click.option("--slots", "slots_mm", callback=_sizes, help="Slots of the flat coupon, mm.")
@click.option("--tips", "tips_mm", callback=_sizes, help="Tips of the support coupon, mm.")
@click.option("--plate", callback=_plate, help="The plate, mm, like 153x87: for the grid and for several exposures.")
@click.option("--exposure", type=float, help="Embossed, and in the manifest, s.")
@click.option("--exposures", callback=_sizes, help="Several on one plate, s; masks or svg, with --plate.")
@click.option("--code", default="", help="Embossed.")
def coupon(
    kind: str,
    file_format: str,
    output: Path,
    plate: tuple[float, float] | None,
    exposures: list[float] | None,
    **chosen: Any,
) -> None:
    """Write the file of a coupon or specimen KIND: solid, masks in a ZIP, drawing, or a table of its layers."""
    from .core.calculators import validated
    from .core.contract import Problem
    from .services.files.coupon_files import Asked, PlateFileAsked, made, plate_file

    options = {name: value for name, value in chosen.items() if value is not None}
    options |= {"kind": kind, "format": file_format}
    if plate is not None:
        options |= {"plate_x_mm": plate[0], "plate_y_mm": plate[1]}
    try:
        if exposures is not None:
            for name in ("exposure", "code"):
                options.pop(name, None)
            answer = plate_file(validated(PlateFileAsked, {**options, "exposures_s": exposures}))
        else:
            answer = made(validated(Asked, options))
    except Problem as problem:
        problems = dict.fromkeys(f"{_option(field)}: {text}" for field, text in problem.fields.items())
        raise click.ClickException(" ".join(problems) or problem.message) from None
    output.write_bytes(answer.content)
    click.echo(f"{output}: {answer.title}, {answer.volume_ml:.2f} ml")


def _option(field: str) -> str:
    """How somebody typed the field: ``walls_mm.0`` is of ``--walls``."""
    name = field.split(".")[0]
    name = {"plate_x_mm": "plate", "plate_y_mm": "plate", "exposures_s": "exposures", "format": "file_format"}.get(
        name, name
    )
    return next((option.opts[0] for option in coupon.params if option.name == name), name)


@main.command()
@db_option
def rebuild(db: Path | None) -> None:
    """Make everything that is kept for speed again from the records."""
    from .services.sets.check_results import rebuild as again
    from .services.unit_of_work import UnitOfWork
    from .store.database import connect

    connection = connect(_existing(db or default_db()))
    try:
        click.echo(f"{again(UnitOfWork(connection))} check coupons made again.")
    finally:
        connection.close()


@main.command()
@click.argument("picture", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option(
    "--kind", type=click.Choice(["flat", "support"]), default="flat", show_default=True, help="Kind of coupon in it."
)
@click.option(
    "--pixel", "pixel_um", type=click.FloatRange(5, 200), default=35, show_default=True, help="The printer's pixel, µm."
)
@click.option("--design", type=click.IntRange(1, 9), help="Design of the kind; every one is tried when not given.")
@click.option("--code", help="Code of a coupon whose picture does not tell it.")
@click.option(
    "--dpi", type=click.FloatRange(150, 4800), help="Resolution of a scan, checked: sizes are then true to scale."
)
@click.option("--json", "as_json", is_flag=True, help="Everything, as JSON.")
def read(
    picture: Path, kind: str, pixel_um: float, design: int | None, code: str | None, dpi: float | None, as_json: bool
) -> None:
    """Read the coupons in a PICTURE, a JPEG or PNG. Nothing is kept."""
    from .core.contract import Problem
    from .services.reading.picture_file import FromCommandLine, in_words, read_for_command_line

    try:
        reading = read_for_command_line(
            picture.read_bytes(), FromCommandLine(kind=kind, pixel_um=pixel_um, design=design, code=code, dpi=dpi)
        )
    except Problem as problem:
        click.echo(json.dumps({"error": {"message": problem.message, "fields": problem.fields}}), err=True)
        sys.exit(2)
    click.echo(json.dumps(reading.model_dump(), indent=1) if as_json else in_words(reading))


@main.command()
def openapi() -> None:
    """Print the OpenAPI document of the API."""
    import tempfile

    from .api.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder) / "empty.db", worker=False)
        with app.app_context():
            click.echo(json.dumps(app.spec, indent=1))


def _existing(path: Path) -> Path:
    if not path.is_file():
        raise click.ClickException(f"There is no database at {path}.")
    return path


main.add_command(user_commands(db_option, default_db))
