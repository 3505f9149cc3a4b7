"""What a process gives up before it reads a stranger's bytes.

By what an unprivileged process on Linux can give up, straight through the C library: the packages for it are old
or thin. Each step is taken where the kernel has it, and which were is told.

Sources: getrlimit(2), prctl(2), landlock(7), seccomp(2), linux/audit.h, asm/unistd.h.
"""

from __future__ import annotations

import contextlib
import ctypes
import os
import resource
import struct
from typing import Any

MEMORY = 512 << 20
"""Bytes of its own that a reader may have; pixels that it hands over are not counted."""
MORE_MEMORY = 1500 << 20
"""The same, at a second try: a progressive JPEG of 400 megapixels needs 1.2 GB."""
_FILES = 320

_SET_DUMPABLE, _SET_NO_NEW_PRIVILEGES, _SET_SECCOMP, _BY_FILTER = 4, 38, 22, 2
_LANDLOCK_CREATE, _LANDLOCK_RESTRICT = 444, 446
_ERRNO, _ALLOW, _KILL = 0x00050000, 0x7FFF0000, 0x80000000
_EPERM, _ENOSYS = 1, 38
_THREAD = 0x00010000  # CLONE_THREAD
_OTHER_NUMBERS = 0x40000000
"""From here on the same calls are numbered once more, for programs with short pointers."""

# Audit names of machines, and the numbers of what no decoder needs there: opening, making and naming files;
# sockets; new programs; signals and looks into other processes; keys, loaded code, mounts, clocks, and ways round.
_DENIED = {
    "x86_64": (
        0xC000003E, 56, 435,
        (2, 41, 42, 43, 49, 50, 53, 57, 58, 59, 62, 76, 82, 83, 84, 85, 86, 87, 88, 90, 92, 94, 101, 105, 106, 113,
         117, 132, 133, 155, 161, 165, 166, 169, 175, 188, 235, 246, 248, 249, 250, 257, 258, 259, 261, 263, 264,
         265, 266, 267, 268, 272, 279, 280, 288, 298, 303, 304, 308, 310, 311, 312, 313, 316, 317, 320, 321, 322,
         323, 425, 426, 427, 428, 429, 430, 431, 432, 434, 437, 438, 440, 442),
    ),
    "aarch64": (
        0xC00000B7, 220, 435,
        (33, 34, 35, 36, 37, 38, 39, 40, 41, 45, 49, 51, 52, 53, 54, 55, 56, 88, 97, 104, 105, 106, 117, 129,
         142, 143, 144, 145, 146, 147, 149, 198, 200, 201, 202, 203, 217, 218, 219, 221, 224, 225, 239, 241, 242,
         264, 265, 268, 270, 271, 272, 273, 276, 277, 280, 281, 282, 425, 426, 427, 428, 429, 430, 431, 432, 434,
         437, 438, 440, 442),
    ),
}  # fmt: skip


def lock_down() -> dict[str, Any]:
    """Give it up; there is no way back. What was given up, by name."""
    libc = ctypes.CDLL(None, use_errno=True)
    libc.syscall.restype = ctypes.c_long
    done: dict[str, Any] = {
        "dumpable": libc.prctl(_SET_DUMPABLE, 0, 0, 0, 0) == 0,
        "no_new_privileges": libc.prctl(_SET_NO_NEW_PRIVILEGES, 1, 0, 0, 0) == 0,
    }
    for what, most in (
        (resource.RLIMIT_CORE, 0),
        (resource.RLIMIT_FSIZE, 0),
        (resource.RLIMIT_NOFILE, _FILES),
        (resource.RLIMIT_MEMLOCK, 0),
        (resource.RLIMIT_MSGQUEUE, 0),
    ):
        with contextlib.suppress(OSError, ValueError):
            resource.setrlimit(what, (most, most))
    with contextlib.suppress(OSError, ValueError):
        resource.setrlimit(resource.RLIMIT_DATA, (MEMORY, MORE_MEMORY))
        done["memory"] = MEMORY
    done["landlock"] = _landlock(libc)
    done["seccomp"] = _seccomp(libc)
    return done


_allowed = MEMORY


def allow(memory: int) -> None:
    """So much memory from now on, up to what was left open."""
    global _allowed
    if memory == _allowed:
        return
    _allowed = memory
    most = resource.getrlimit(resource.RLIMIT_DATA)[1]
    if most != resource.RLIM_INFINITY:
        memory = min(memory, most)
    resource.setrlimit(resource.RLIMIT_DATA, (memory, most))


def _landlock(libc: Any) -> int:
    """No file by its name, no network, no signals to others: a ruleset without a rule. The version that the kernel
    has; 0 where it has none."""
    version = int(libc.syscall(_LANDLOCK_CREATE, None, 0, 1))
    if version < 1:
        return 0
    rights = 16 if version >= 5 else 15 if version >= 3 else 14 if version >= 2 else 13
    network = 3 if version >= 4 else 0
    scopes = 3 if version >= 6 else 0
    size = 24 if version >= 6 else 16 if version >= 4 else 8
    ruleset = struct.pack("QQQ", (1 << rights) - 1, network, scopes)[:size]
    handle = int(libc.syscall(_LANDLOCK_CREATE, ruleset, size, 0))
    if handle < 0:
        return 0
    try:
        return version if libc.syscall(_LANDLOCK_RESTRICT, handle, 0) == 0 else 0
    finally:
        os.close(handle)


def _seccomp(libc: Any) -> bool:
    """Calls of the kernel that no decoder needs are refused; threads may be started, processes not."""
    held = _DENIED.get(os.uname().machine)
    if held is None:
        return False
    machine, clone, clone3, denied = held
    step = struct.Struct("=HBBI")
    load, same, least, has, give = 0x20, 0x15, 0x35, 0x45, 0x06

    def jump(how: int, value: int, yes: int, no: int) -> bytes:
        return step.pack(how, yes, no, value)

    code = [
        step.pack(load, 0, 0, 4),
        jump(same, machine, 1, 0),
        step.pack(give, 0, 0, _KILL),
        step.pack(load, 0, 0, 0),
        jump(least, _OTHER_NUMBERS, 0, 1),
        step.pack(give, 0, 0, _ERRNO | _EPERM),
    ]
    for number in denied:
        code += [jump(same, number, 0, 1), step.pack(give, 0, 0, _ERRNO | _EPERM)]
    # What clone3 is asked for lies in memory, where a filter cannot look: the older call is taken instead.
    code += [jump(same, clone3, 0, 1), step.pack(give, 0, 0, _ERRNO | _ENOSYS)]
    code += [
        jump(same, clone, 0, 3),
        step.pack(load, 0, 0, 16),
        jump(has, _THREAD, 1, 0),
        step.pack(give, 0, 0, _ERRNO | _EPERM),
        step.pack(give, 0, 0, _ALLOW),
    ]
    whole = b"".join(code)
    held_code = ctypes.create_string_buffer(whole, len(whole))
    program = struct.pack("=HxxxxxxQ", len(code), ctypes.addressof(held_code))
    return bool(libc.prctl(_SET_SECCOMP, _BY_FILTER, program, 0, 0) == 0)
