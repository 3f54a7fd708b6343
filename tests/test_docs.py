"""Documents name files that are there."""

import re
import subprocess

import pytest

from tests.served import ROOT

PATH = re.compile(r"(?<![\w/.-])((?:moth|inkwell|web|tests|script|bench|docs|examples)/[\w./-]*\w)")
KEPT = subprocess.run(
    ["git", "ls-files", "*.md"], cwd=ROOT, capture_output=True, text=True, check=True
).stdout.split()


@pytest.mark.parametrize("name", KEPT)
def test_what_a_document_names_is_there(name):
    document = ROOT / name
    text = document.read_text()
    named = {path for path in PATH.findall(text) if not (ROOT / path).exists()}
    links = {
        link
        for link in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", text)
        if not (document.parent / link).exists()
    }
    # Another file's folder, read from where the document lies.
    named = {path for path in named if not (document.parent / path).exists()}
    assert not named | links
