"""The shop's devices: its own certificate authority, a TLS front before the server, and the plain page that says how.

::

    tablet ──https──▶ front (asyncio) ──plain──▶ random port of this machine ──▶ server
    tablet ──http───▶ plain page: the authority's file and fingerprint, and nothing else

The front only pipes bytes: a device that says nothing costs a socket and delays nobody.
"""

from elumbra.lan.authority import Authority, AuthorityError, names_here, open_authority
from elumbra.lan.front import Front, behind_front

__all__ = ["Authority", "AuthorityError", "Front", "behind_front", "names_here", "open_authority"]
