"""Workers: a process that does one task after another starts warm, whoever asks for it first."""

import subprocess
import sys

FIRST = """
from functools import partial
from nuthatch.core.workers import Task, Worker
if __name__ == "__main__":
    print(Worker().run(Task(partial(eval, "'nuthatch.core.assess' in __import__('sys').modules"), {})))
"""


def test_the_first_worker_of_a_program_is_warm(tmp_path) -> None:
    """In a program of its own, where nothing has asked for the warm server yet: each edit of a home with a slow stage ends its worker and
    starts another, which would otherwise read every module again."""
    (tmp_path / "first.py").write_text(FIRST)
    done = subprocess.run([sys.executable, str(tmp_path / "first.py")], capture_output=True, text=True, timeout=120)
    assert done.stdout.strip() == "True", done.stderr
