"""``setback user``: accounts from the server's own machine, for the first one and for a password that is lost."""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..core.people.access import ROLE_WORDS, Role

if TYPE_CHECKING:
    from ..services.unit_of_work import UnitOfWork

ROLES = click.Choice([role.value for role in Role])


def commands(db_option: Callable[..., click.Command], default_db: Callable[[], Path]) -> click.Group:
    """The group of commands, over the database that the other commands use."""
    from_stdin = click.option("--password-stdin", is_flag=True, help="Read the password from standard input.")

    @click.group()
    def user() -> None:
        """People who may sign in where a workshop is served (setback serve --host)."""

    @user.command()
    @db_option
    @click.argument("initials")
    @click.option("--role", type=ROLES, help="The first account is a lead's, others a technician's, unless said.")
    @from_stdin
    def add(db: Path | None, initials: str, role: str | None, password_stdin: bool) -> None:
        """Let INITIALS sign in; what they recorded before stays theirs."""
        from ..core.calculators import validated
        from ..services.people import accounts
        from ..store.people import has_lead

        with _lab(db or default_db(), makes=True) as work:
            role_name = role or (Role.TECHNICIAN.value if has_lead(work.db) else Role.LEAD.value)
            content = {"initials": initials, "role": role_name, "password": _password(password_stdin)}
            added = accounts.add(work, validated(accounts.AccountInput, content), is_own=True)
        click.echo(f"{added.initials} may sign in as {added.role.value}: {added.role_words}.")

    @user.command("list")
    @db_option
    def list_people(db: Path | None) -> None:
        """Who may sign in."""
        from ..services.people import accounts

        with _lab(db or default_db()) as work:
            rows = accounts.people(work).items
        for account in rows:
            state = (
                f"revoked {account.revoked_at[:10]}"
                if account.revoked_at
                else f"last here {(account.last_used_at or 'never')[:10]}"
            )
            click.echo(f"{account.initials:5}{account.role.value:12}{state}")
        if not rows:
            click.echo("Nobody yet: setback user add INITIALS")

    @user.command()
    @db_option
    @click.argument("initials")
    @from_stdin
    def password(db: Path | None, initials: str, password_stdin: bool) -> None:
        """Set the password of INITIALS where it is lost; they are signed out everywhere."""
        from ..services.people import accounts

        with _lab(db or default_db()) as work:
            account_id = _account(work, initials)
            request = accounts.NewPasswordInput(password=_password(password_stdin))
            accounts.set_password(work, account_id, request, is_own=True)
        click.echo(
            f"The password of {initials.upper()} is set. They are signed out everywhere, and their PINs are gone."
        )

    @user.command()
    @db_option
    @click.argument("initials")
    @click.argument("role", type=ROLES)
    def role(db: Path | None, initials: str, role: str) -> None:
        """Give INITIALS another ROLE."""
        from ..services.people import accounts

        with _lab(db or default_db()) as work:
            changed = accounts.change_role(work, _account(work, initials), accounts.RoleInput(role=Role(role)))
        click.echo(f"{changed.initials} is a {role} now: {ROLE_WORDS[Role(role)]}.")

    @user.command()
    @db_option
    @click.argument("initials")
    def revoke(db: Path | None, initials: str) -> None:
        """Let INITIALS sign in no more; they are out at once."""
        from ..services.people import accounts

        with _lab(db or default_db()) as work:
            accounts.revoke(work, _account(work, initials))
        click.echo(f"{initials.upper()} may sign in no more. What they recorded stays.")

    @user.command()
    @db_option
    @click.argument("initials")
    def restore(db: Path | None, initials: str) -> None:
        """Let INITIALS sign in again, with the password they had."""
        from ..services.people import accounts

        with _lab(db or default_db()) as work:
            accounts.restore(work, _account(work, initials))
        click.echo(f"{initials.upper()} may sign in again.")

    return user


@contextmanager
def _lab(path: Path, *, makes: bool = False) -> Iterator[UnitOfWork]:
    """A lab's database brought up to date, with what it refuses in a sentence; ``makes`` a new one where there is none."""
    from ..core.contract import Problem
    from ..services.unit_of_work import Conflict, UnitOfWork
    from ..store.database import connect, migrate
    from ..store.one_server import is_served

    if not path.is_file() and not makes:
        raise click.ClickException(f"There is no database at {path}.")
    path.parent.mkdir(parents=True, exist_ok=True)
    # A server that has it open has brought it up to date.
    if not is_served(path):
        migrate(path)
    db = connect(path)
    try:
        yield UnitOfWork(db)
    except (Problem, Conflict) as error:
        raise click.ClickException(" ".join(dict.fromkeys(error.fields.values())) or error.message) from None
    finally:
        db.close()


def _account(work: UnitOfWork, initials: str) -> str:
    from ..store.people import account_of

    account = account_of(work.db, initials)
    if account is None:
        raise click.ClickException(f"{initials.upper()} has no account. setback user list says who has.")
    return account.id


def _password(from_stdin: bool) -> str:
    """Typed twice and not shown, or the first line of standard input."""
    if from_stdin:
        return sys.stdin.readline().rstrip("\r\n")
    typed: str = click.prompt("Password", hide_input=True, confirmation_prompt="The same again")
    return typed
