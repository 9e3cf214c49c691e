"""Who a request comes from, told only by proxies that are trusted.

`TRUSTED_PROXIES` lists addresses or networks of the installation's own proxies. A request that one
of them passes on has the client's address in X-Forwarded-For and its scheme in X-Forwarded-Proto;
anybody else may write into those headers what they like, so they are dropped.
"""

import ipaddress
from collections.abc import Callable, Iterable

from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.http import HttpRequest, HttpResponse

Network = ipaddress.IPv4Network | ipaddress.IPv6Network
Address = ipaddress.IPv4Address | ipaddress.IPv6Address
FORWARDED = (
    "HTTP_X_FORWARDED_FOR",
    "HTTP_X_FORWARDED_PROTO",
    "HTTP_X_FORWARDED_HOST",
    "HTTP_FORWARDED",
)


def networks_of(names: Iterable[str]) -> tuple[Network, ...]:
    """Read networks such as 10.0.0.0/8, or single addresses.

    Raises
    ------
    ImproperlyConfigured
        For what is neither: the installation does not start with it.
    """
    try:
        return tuple(ipaddress.ip_network(name.strip()) for name in names if name.strip())
    except ValueError as why:
        raise ImproperlyConfigured(f"TRUSTED_PROXIES: {why}.") from None


def client_of(peer: str, forwarded: str, trusted: tuple[Network, ...]) -> str:
    """Find the client's address: the last one that no trusted proxy has.

    Parameters
    ----------
    peer : str
        Who opened the connection.
    forwarded : str
        X-Forwarded-For: the client first, then each proxy that the request passed.
    """
    found = peer
    for name in reversed([peer_ for peer_ in forwarded.split(",") if peer_.strip()]):
        if not _trusted(found, trusted):
            break
        address = _address(name.strip())
        if address is None:
            break
        found = str(address)
    return found


def _address(name: str) -> Address | None:
    try:
        return ipaddress.ip_address(name)
    except ValueError:
        return None


def _trusted(name: str, trusted: tuple[Network, ...]) -> bool:
    address = _address(name)
    return address is not None and any(
        address in network for network in trusted if network.version == address.version
    )


class TrustedProxies:
    """Puts the client's own address into REMOTE_ADDR, and drops what nobody trustworthy said."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self.trusted = networks_of(settings.TRUSTED_PROXIES)

    def __call__(self, request: HttpRequest) -> HttpResponse:
        peer = request.META.get("REMOTE_ADDR", "")
        if _trusted(peer, self.trusted):
            forwarded = request.META.get("HTTP_X_FORWARDED_FOR", "")
            request.META["REMOTE_ADDR"] = client_of(peer, forwarded, self.trusted)
        else:
            for name in FORWARDED:
                request.META.pop(name, None)
        return self.get_response(request)
