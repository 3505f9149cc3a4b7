"""Reads what the application tells to screen readers, over AT-SPI, as one of them would: a process of its own.

For each line on its standard input it reads the whole tree of the application and prints one JSON list on
a line: of each object its role, name, description, depth and states.
"""

from __future__ import annotations

import json
import sys
import time

from jeepney import DBusAddress, new_method_call
from jeepney.io.blocking import DBusConnection, open_dbus_connection

ACCESSIBLE = "org.a11y.atspi.Accessible"
SHOWING, FOCUSABLE = 1 << 25, 1 << 11
DEEPEST = 60


def asked(bus: DBusConnection, name: str, path: str, what: str, sign: str = "", *given: object):
    """One call of a method of an accessible object, and what it gives back."""
    interface = "org.freedesktop.DBus.Properties" if what == "Get" else ACCESSIBLE
    call = new_method_call(DBusAddress(path, name, interface), what, sign or None, given)
    answer = bus.send_and_get_reply(call, timeout=20)
    return answer.body[0] if answer.header.message_type.name == "method_return" else None


def bus_of_readers() -> DBusConnection:
    """The bus on which applications speak to screen readers."""
    session = open_dbus_connection("SESSION")
    at = DBusAddress("/org/a11y/bus", "org.a11y.Bus", "org.a11y.Bus")
    address = session.send_and_get_reply(new_method_call(at, "GetAddress")).body[0]
    return open_dbus_connection(address)


def walk(
    bus: DBusConnection, name: str, path: str, depth: int, out: list[dict[str, object]]
) -> None:
    if depth > DEEPEST:
        return
    states = asked(bus, name, path, "GetState") or [0, 0]
    said = asked(bus, name, path, "Get", "ss", ACCESSIBLE, "Name")
    more = asked(bus, name, path, "Get", "ss", ACCESSIBLE, "Description")
    if depth > 1 and not states[0] & SHOWING:
        return
    out.append(
        {
            "role": asked(bus, name, path, "GetRoleName"),
            "name": said[1] if said else None,
            "description": more[1] if more else None,
            "depth": depth,
            "focusable": bool(states[0] & FOCUSABLE),
        }
    )
    for child_name, child in asked(bus, name, path, "GetChildren") or ():
        walk(bus, child_name, child, depth + 1, out)


def main() -> None:
    bus = bus_of_readers()
    registry, root = "org.a11y.atspi.Registry", "/org/a11y/atspi/accessible/root"
    for _line in sys.stdin:
        found: list[dict[str, object]] = []
        end = time.monotonic() + 20
        while not (programs := asked(bus, registry, root, "GetChildren")):
            if time.monotonic() > end:
                break
        for name, path in programs or ():
            walk(bus, name, path, 0, found)
        print(json.dumps(found), flush=True)


if __name__ == "__main__":
    main()
