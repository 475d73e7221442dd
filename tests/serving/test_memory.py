"""All threads of the server take memory from one heap."""

import subprocess
import sys

MANY_THREADS = """
import re, sys, threading
from setback.serving.memory import share_one_heap
shared = sys.argv[1] == "one" and share_one_heap()
started, ended = threading.Barrier(9), threading.Barrier(9)
def take():
    blocks = [bytearray(600) for _ in range(1000)]
    started.wait(); ended.wait()
threads = [threading.Thread(target=take) for _ in range(8)]
for thread in threads: thread.start()
started.wait()
# A heap of a thread is a reservation of 64 MB.
print(sum(int(high, 16) - int(low, 16) == 64 << 20 or "---p" in line
    for line in open("/proc/self/maps") for low, high in [line.split()[0].split("-")]), shared)
ended.wait()
"""


def heaps(way: str) -> list[str]:
    return subprocess.run(
        [sys.executable, "-c", MANY_THREADS, way], capture_output=True, text=True, check=True
    ).stdout.split()


def test_threads_of_the_server_share_a_heap():
    many, one = heaps("many"), heaps("one")
    assert one[1] == "True" and int(one[0]) + 6 <= int(many[0])
