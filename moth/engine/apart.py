"""Files opened in a process of their own: one made to do harm harms nothing else."""

import subprocess
import sys
from dataclasses import dataclass

from ..errors import MothError


@dataclass(frozen=True)
class Opener:
    """A module of the core that opens what is on its standard input, and within what bounds.

    It writes the answer to standard output and returns 0; a refusal is its last line of standard
    error, with 2.
    """

    module: str
    noun: str
    """What it opens, in a sentence: "picture"."""
    unreadable: str
    """Sentence for what ends it otherwise."""
    memory: int
    """Bytes that it may take."""
    seconds: int
    """That it may take."""
    half_read: bytes | None = None
    """What standard error holds when only a part was read."""

    def open(self, data, *args):
        """What the module answers.

        Parameters
        ----------
        data : bytes
        *args : str
            Of its command line.

        Returns
        -------
        bytes

        Raises
        ------
        MothError
        """
        try:
            done = subprocess.run(
                [sys.executable, "-m", self.module, *args],
                input=data,
                capture_output=True,
                timeout=self.seconds,
                check=False,
                preexec_fn=self._bounded,
            )
        except subprocess.TimeoutExpired:
            raise MothError(
                f"The {self.noun} took longer than {self.seconds} s to open: it was given up."
            ) from None
        if done.returncode == 2:
            raise MothError(done.stderr.decode(errors="replace").strip().splitlines()[-1])
        if done.returncode != 0 or (self.half_read and self.half_read in done.stderr):
            raise MothError(self.unreadable)
        return done.stdout

    def _bounded(self):
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (self.memory, self.memory))
        resource.setrlimit(resource.RLIMIT_CPU, (self.seconds, self.seconds))
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
