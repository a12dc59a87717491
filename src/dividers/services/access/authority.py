"""The workshop's own small authority: it vouches for this machine, so that phones that trust it talk to it unread and unchanged.

It may vouch only for addresses of home and workshop networks and for this machine's names (name constraints, RFC 5280 4.2.1.10): whoever
got hold of its key couldn't pass for anything else.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from ipaddress import ip_address, ip_network
from pathlib import Path
from typing import TYPE_CHECKING, Any

from dividers.core.base.errors import BadInput
from dividers.services import clock
from dividers.services.private_files import put_private

if TYPE_CHECKING:
    from cryptography.hazmat.primitives.asymmetric.ec import EllipticCurvePrivateKey
    from cryptography.x509 import Certificate, GeneralName

FOLDER, KEY, CERTIFICATE, OWN = "tls", "authority.key", "authority.pem", "server.pem"
YEARS, OWN_DAYS = (
    10,
    397,
)  # phones take no certificate of a server that is good for longer than 398 days (common practice, no source)
SLOW_CLOCK = timedelta(days=1)  # a phone's clock may be behind
NEAR_NETWORKS = (
    "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8", "::1/128", "fc00::/7", "fe80::/10",
)  # fmt: skip
NEAR_NAMES = ("localhost", "local", "lan", "internal", "home.arpa")


@dataclass(frozen=True)
class Authority:
    """A certificate that phones may trust, and its key."""

    certificate: "Certificate"
    key: "EllipticCurvePrivateKey"
    folder: Path

    @property
    def fingerprint(self) -> str:
        """The SHA-256 of the certificate as pairs of digits, as phones and browsers show it."""
        from cryptography.hazmat.primitives.hashes import SHA256

        return self.certificate.fingerprint(SHA256()).hex(":").upper()

    @property
    def file(self) -> bytes:
        """The certificate as a phone takes it in (DER)."""
        from cryptography.hazmat.primitives.serialization import Encoding

        return self.certificate.public_bytes(Encoding.DER)

    def uncovered(self, names: Sequence[str]) -> list[str]:
        """The names and addresses that this authority may not vouch for."""
        from cryptography.x509 import DNSName, IPAddress, NameConstraints

        allowed = self.certificate.extensions.get_extension_for_class(NameConstraints).value.permitted_subtrees or []
        networks = [ip_network(str(each.value)) for each in allowed if isinstance(each, IPAddress)]
        domains = [each.value for each in allowed if isinstance(each, DNSName)]
        return [
            name
            for name in names
            if not (
                any(ip_address(name) in network for network in networks)
                if _is_address(name)
                else any(name == domain or name.endswith(f".{domain}") for domain in domains)
            )
        ]


def keep_authority(folder: Path, names: Sequence[str]) -> Authority:
    """The authority of a data folder, made where there is none yet, for near networks and for names of this machine.

    Raises BadInput for one that can't be read or is over, OSError where nothing can be written.
    """
    from cryptography.hazmat.primitives.serialization import load_pem_private_key
    from cryptography.x509 import load_pem_x509_certificate

    place = folder / FOLDER
    place.mkdir(mode=0o700, parents=True, exist_ok=True)
    if not (place / CERTIFICATE).exists():
        _make(place, names)
    try:
        certificate = load_pem_x509_certificate((place / CERTIFICATE).read_bytes())
        key: Any = load_pem_private_key((place / KEY).read_bytes(), None)
        matching = key.public_key() == certificate.public_key()
    except (OSError, ValueError, TypeError):
        matching = False
    if not matching:
        raise BadInput(
            f"The authority in {place} can't be read. Put {CERTIFICATE} and {KEY} back from a backup; "
            "or remove both, a new one is made then, and each phone has to trust it anew."
        )
    if certificate.not_valid_after_utc <= clock.moment():
        raise BadInput(
            f"The authority in {place} was good until {certificate.not_valid_after_utc:%Y-%m-%d}. Remove {CERTIFICATE} "
            f"and {KEY} there; a new one is made then, and each phone has to trust it anew."
        )
    return Authority(certificate, key, place)


def _make(place: Path, names: Sequence[str]) -> None:
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509 import BasicConstraints, DNSName, IPAddress, KeyUsage, NameConstraints

    key = ec.generate_private_key(ec.SECP256R1())
    networks = [*NEAR_NETWORKS, *(name for name in names if _is_address(name))]
    domains = dict.fromkeys([*NEAR_NAMES, *(name for name in names if not _is_address(name))])
    permitted: list[GeneralName] = [IPAddress(ip_network(network)) for network in dict.fromkeys(networks)]
    permitted += [DNSName(domain) for domain in domains]
    builder = _draft("Dividers of this workshop", key, timedelta(days=365.25 * YEARS))
    builder = builder.issuer_name(_named("Dividers of this workshop"))
    builder = builder.add_extension(BasicConstraints(ca=True, path_length=0), critical=True)
    builder = builder.add_extension(NameConstraints(permitted, None), critical=True)
    builder = builder.add_extension(
        KeyUsage(
            digital_signature=False, content_commitment=False, key_encipherment=False, data_encipherment=False, key_agreement=False,
            key_cert_sign=True, crl_sign=True, encipher_only=False, decipher_only=False,
        ), critical=True,
    )  # fmt: skip
    put_private(place / KEY, _pem(key))
    put_private(place / CERTIFICATE, _signed(builder, key, key))


def issue(authority: Authority, names: Sequence[str]) -> Path:
    """Vouch for this machine under its names and addresses: a file with a new key and its certificate, for some months.

    Names that the authority may not vouch for are left out.
    """
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.hazmat.primitives.serialization import Encoding
    from cryptography.x509 import BasicConstraints, DNSName, ExtendedKeyUsage, IPAddress, SubjectAlternativeName
    from cryptography.x509.oid import ExtendedKeyUsageOID

    left_out = set(authority.uncovered(names))
    covered = [name for name in dict.fromkeys([*names, "localhost", "127.0.0.1"]) if name not in left_out]
    key = ec.generate_private_key(ec.SECP256R1())
    builder = _draft("Dividers", key, timedelta(days=OWN_DAYS)).issuer_name(authority.certificate.subject)
    builder = builder.add_extension(BasicConstraints(ca=False, path_length=None), critical=True)
    builder = builder.add_extension(
        SubjectAlternativeName([IPAddress(ip_address(name)) if _is_address(name) else DNSName(name) for name in covered]),
        critical=False,
    )
    builder = builder.add_extension(ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
    path = authority.folder / OWN
    put_private(path, _pem(key) + _signed(builder, key, authority.key) + authority.certificate.public_bytes(Encoding.PEM))
    return path


def _draft(name: str, key: "EllipticCurvePrivateKey", lasts: timedelta) -> Any:
    from cryptography.x509 import CertificateBuilder, random_serial_number

    now = clock.moment()
    builder = CertificateBuilder().subject_name(_named(name)).public_key(key.public_key()).serial_number(random_serial_number())
    return builder.not_valid_before(now - SLOW_CLOCK).not_valid_after(now + lasts)


def _signed(builder: Any, own: "EllipticCurvePrivateKey", by: "EllipticCurvePrivateKey") -> bytes:
    from cryptography.hazmat.primitives.hashes import SHA256
    from cryptography.hazmat.primitives.serialization import Encoding
    from cryptography.x509 import AuthorityKeyIdentifier, SubjectKeyIdentifier

    builder = builder.add_extension(SubjectKeyIdentifier.from_public_key(own.public_key()), critical=False)
    builder = builder.add_extension(AuthorityKeyIdentifier.from_issuer_public_key(by.public_key()), critical=False)
    made: bytes = builder.sign(by, SHA256()).public_bytes(Encoding.PEM)
    return made


def _named(name: str) -> Any:
    from cryptography.x509 import Name, NameAttribute
    from cryptography.x509.oid import NameOID

    return Name([NameAttribute(NameOID.COMMON_NAME, name)])


def _pem(key: "EllipticCurvePrivateKey") -> bytes:
    from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat

    return key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())


def _is_address(name: str) -> bool:
    try:
        ip_address(name)
    except ValueError:
        return False
    return True
