"""Certificates for a cluster of one's own: whoever holds them may run work on it, nobody else.

python -m inkwell.trials.certificates FOLDER
"""

import os
import sys
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

YEARS = 5
"""How long they hold."""


def make(folder):
    """An authority and one certificate by it, for scheduler, workers and runner alike.

    Parameters
    ----------
    folder : str or Path
        Gets ca.pem, own.pem and own.key; the authority's own key is not kept, so that nobody can
        make another certificate with it.

    Examples
    --------
    >>> import tempfile
    >>> with tempfile.TemporaryDirectory() as folder:
    ...     make(folder)
    ...     sorted(p.name for p in Path(folder).iterdir())
    ['ca.pem', 'own.key', 'own.pem']
    """
    folder = Path(folder)
    folder.mkdir(parents=True, exist_ok=True)
    authority, own = (
        ec.generate_private_key(ec.SECP256R1()),
        ec.generate_private_key(ec.SECP256R1()),
    )
    issuer = _name("Inkwell Moth cluster")
    ca = _certificate(issuer, issuer, authority.public_key(), True).sign(authority, hashes.SHA256())
    certificate = _certificate(_name("cluster member"), issuer, own.public_key(), False)
    signed = certificate.sign(authority, hashes.SHA256())
    pem = serialization.Encoding.PEM
    (folder / "ca.pem").write_bytes(ca.public_bytes(pem))
    (folder / "own.pem").write_bytes(signed.public_bytes(pem))
    key = own.private_bytes(pem, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    with open(os.open(folder / "own.key", os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as f:
        f.write(key)


def _name(words):
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, words)])


def _certificate(subject, issuer, key, authority):
    now = datetime.now(UTC)
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + timedelta(days=365 * YEARS))
        .add_extension(x509.BasicConstraints(ca=authority, path_length=None), critical=True)
    )


if __name__ == "__main__":
    make(sys.argv[1])
