"""Certificates of the lab's own authority: what they are for, when they end, and what is refused."""

import ssl
import stat
from datetime import UTC, datetime, timedelta

import pytest
from cryptography import x509

from setback.serving import tls

NOW = datetime(2026, 1, 21, 9, 0, tzinfo=UTC)


@pytest.fixture
def made(tmp_path):
    return tls.make(tmp_path / "tls", ["bench.local", "127.0.0.2"], "Skerry Point", NOW)


def test_a_certificate_is_for_its_names_and_lasts_as_long_as_phones_allow(made):
    usable = tls.usable(made.certificate, made.key, NOW)
    assert usable.names == {"bench.local", "127.0.0.2"} and usable.ends == made.ends == NOW + timedelta(days=397)
    assert usable.warning(NOW) is None
    assert usable.warning(made.ends - timedelta(days=12)) == "The certificate runs out in 12 days, on 2027-02-22."


def test_a_phone_whose_clock_is_an_hour_behind_takes_it(made):
    tls.usable(made.certificate, made.key, NOW - timedelta(hours=1))


def test_keys_are_for_their_owner_alone(made):
    for file in (made.key, made.authority.with_suffix(".key")):
        assert stat.S_IMODE(file.stat().st_mode) == 0o600
    assert stat.S_IMODE(made.key.parent.stat().st_mode) == 0o700


def test_the_authority_vouches_for_these_names_and_for_nothing_else(made):
    authority = x509.load_pem_x509_certificate(made.authority.read_bytes())
    assert "Skerry Point" in authority.subject.rfc4514_string()
    limits = authority.extensions.get_extension_for_class(x509.NameConstraints)
    assert limits.critical and {str(name.value) for name in limits.value.permitted_subtrees} == {
        "bench.local",
        "127.0.0.2/32",
    }
    basic = authority.extensions.get_extension_for_class(x509.BasicConstraints).value
    assert basic.ca and basic.path_length == 0


@pytest.mark.parametrize(("names", "excluded"), [(["127.0.0.2"], [""]), (["bench.local"], ["0.0.0.0/0", "::/0"])])
def test_a_kind_of_name_it_has_none_of_is_excluded_whole(tmp_path, names, excluded):
    made = tls.make(tmp_path / "tls", names, "", NOW)
    authority = x509.load_pem_x509_certificate(made.authority.read_bytes())
    limits = authority.extensions.get_extension_for_class(x509.NameConstraints).value
    assert [str(name.value) for name in limits.excluded_subtrees] == excluded


def test_a_new_certificate_is_made_by_the_same_authority(made):
    authority, certificate = made.authority.read_bytes(), made.certificate.read_bytes()
    later = NOW + timedelta(days=380)
    again = tls.make(made.key.parent, ["bench.local"], "Skerry Point", later)
    assert not again.is_new_authority and made.authority.read_bytes() == authority
    assert made.certificate.read_bytes() != certificate
    assert tls.usable(again.certificate, again.key, later).names == {"bench.local"}


def test_other_names_need_another_authority_and_that_is_said(made):
    with pytest.raises(tls.Unusable, match=r"not for shed\.local\. Make a new one with --new-authority"):
        tls.make(made.key.parent, ["shed.local"], "", NOW)
    assert tls.usable(made.certificate, made.key, NOW).names == {"bench.local", "127.0.0.2"}
    again = tls.make(made.key.parent, ["shed.local"], "", NOW, new_authority=True)
    assert again.is_new_authority and tls.usable(again.certificate, again.key, NOW).names == {"shed.local"}


def test_an_authority_that_ran_out_says_so(made):
    with pytest.raises(tls.Unusable, match="authority ran out"):
        tls.make(made.key.parent, ["bench.local"], "", NOW + timedelta(days=3651))


def test_a_certificate_ends_with_its_authority(made):
    last = NOW + timedelta(days=3600)
    assert tls.make(made.key.parent, ["bench.local"], "", last).ends == NOW + timedelta(days=3650)


@pytest.mark.parametrize(
    "name", ["", "bench local", "https://bench.local", "-bench", "1.2.3", "a" * 300, "bench.local:8350"]
)
def test_what_is_no_name_is_refused(tmp_path, name):
    with pytest.raises(tls.Unusable):
        tls.make(tmp_path / "tls", [name], "", NOW)
    assert not (tmp_path / "tls" / "server.pem").exists()


def test_no_name_at_all_says_what_is_needed(tmp_path):
    with pytest.raises(tls.Unusable, match=r"bench\.local"):
        tls.make(tmp_path / "tls", [], "", NOW)


@pytest.mark.parametrize(
    ("at", "word"),
    [(NOW + timedelta(days=398), "ran out on 2027-02-22"), (NOW - timedelta(days=2), "this machine's clock")],
)
def test_one_that_is_not_valid_now_is_refused(made, at, word):
    with pytest.raises(tls.Unusable, match=word):
        tls.usable(made.certificate, made.key, at)


def test_files_that_are_none_or_do_not_belong_together(made, tmp_path):
    other = tls.make(tmp_path / "other", ["bench.local"], "", NOW)
    text = tmp_path / "text.pem"
    text.write_text("hello")
    for certificate, key, word in (
        (made.certificate, other.key, "is not the key of"),
        (text, made.key, "no certificate"),
        (made.certificate, text, "no key"),
        (tmp_path / "none.pem", made.key, "cannot be read"),
        (made.certificate, tmp_path / "none.key", "cannot be read"),
    ):
        with pytest.raises(tls.Unusable, match=word):
            tls.usable(certificate, key, NOW)


def test_openssl_takes_both(made):
    ssl.create_default_context(cafile=made.authority)
    ssl.create_default_context(ssl.Purpose.CLIENT_AUTH).load_cert_chain(made.certificate, made.key)
