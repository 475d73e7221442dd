"""What is laid before the server may be anything: heavy work on it ends within its time and memory, and the server goes on."""

from __future__ import annotations

import io
import os
import struct
import time
import zlib
from multiprocessing import get_context

import pytest
from PIL import Image, PngImagePlugin

from setback.core.contract import Problem
from setback.core.pictures import MOST_PIXELS, cleaned
from setback.services import apart


def sleeps():
    time.sleep(60)


def hoards():
    return len(bytearray(8_000_000_000))


def dies():
    os._exit(11)


def refuses(words):
    raise Problem(words, {"photo": words}, {"photo": 1.0})


def fails():
    raise ZeroDivisionError


def adds(a, b):
    return a + b


def counts_up():
    for share in (0.25, 0.5, 0.75):
        apart.report(share)
        time.sleep(0.6)


@pytest.mark.long
def test_how_far_it_is_comes_out_while_it_works():
    shares = []
    apart.run(counts_up, field="photo", meanwhile=shares.append)
    assert {0.25, 0.5} <= set(shares) and shares == sorted(shares)


def test_it_answers_and_refuses_as_the_function_does():
    assert apart.run(adds, 2, 3, field="photo") == 5
    with pytest.raises(Problem, match="no picture") as told:
        apart.run(refuses, "no picture", field="photo")
    assert told.value.fields == {"photo": "no picture"} and told.value.suggest == {"photo": 1.0}
    with pytest.raises(ZeroDivisionError):
        apart.run(fails, field="photo")


@pytest.mark.parametrize(
    ("function", "words"), [(sleeps, "longer than 1 s"), (hoards, "more memory"), (dies, "more memory")]
)
def test_what_needs_too_much_is_ended_and_the_next_has_its_turn(function, words):
    began = time.monotonic()
    with pytest.raises(Problem, match=words) as told:
        apart.run(function, field="photo", seconds=1.0 if function is sleeps else 30.0)
    assert list(told.value.fields) == ["photo"] and time.monotonic() - began < 25
    assert apart.run(adds, 2, 3, field="photo") == 5


def test_what_is_raised_meanwhile_ends_the_child():
    class Cancelled(Exception):
        pass

    def cancel(_):
        raise Cancelled

    began = time.monotonic()
    with pytest.raises(Cancelled):
        apart.run(sleeps, field="file", seconds=60, meanwhile=cancel)
    assert time.monotonic() - began < 20


def png_of(width, height):
    """A few bytes that say they hold very many pixels."""

    def chunk(name, data):
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize("side", [30_000, 8_000])
def test_a_picture_with_more_pixels_than_are_taken_is_never_unpacked(side):
    assert side * side > MOST_PIXELS
    with pytest.raises(Problem, match="million pixels"):
        cleaned(png_of(side, side))


def test_nothing_but_pixels_is_kept_of_a_picture():
    secret = b"somebody's name and place"
    info = PngImagePlugin.PngInfo()
    info.add_text("Comment", secret.decode())
    made = {}
    plain = Image.new("RGB", (40, 20), (200, 10, 10))
    for kind, options in (("PNG", {"pnginfo": info}), ("JPEG", {"comment": secret, "icc_profile": secret * 30})):
        out = io.BytesIO()
        plain.save(out, kind, **options)
        assert secret in out.getvalue()
        made[kind] = cleaned(out.getvalue())
    exif = Image.Exif()
    exif[0x010E], exif[0x0112] = secret.decode(), 6
    out = io.BytesIO()
    plain.save(out, "JPEG", exif=exif)
    made["turned"] = cleaned(out.getvalue())
    assert all(secret not in content for content, _, _ in made.values())
    assert made["PNG"][1:] == (40, 20) and made["turned"][1:] == (20, 40), "upright, as it was meant"


@pytest.mark.parametrize("content", [b"", b"GIF89a", b"\xff\xd8\xff\xe0" + b"\0" * 500, png_of(10, 10)[:40]])
def test_what_is_no_picture_is_said_so(content):
    with pytest.raises(Problem, match="no picture that can be read"):
        cleaned(content)


@pytest.mark.long
def test_a_process_that_used_it_ends():
    """Such as the one that builds the demo: it waits for no child of its own."""
    process = get_context("spawn").Process(target=_uses_it)
    process.start()
    process.join(timeout=60)
    is_over = process.exitcode is not None
    if not is_over:
        process.kill()
    assert is_over and process.exitcode == 0


def _uses_it():
    assert apart.run(adds, 1, 1, field="photo") == 2
