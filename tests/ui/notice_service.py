"""A stand-in for the desktop's notices, on the session's bus: prints the first one that it is told, and ends."""

from __future__ import annotations

import sys

from PyQt6.QtCore import QCoreApplication, QObject, QTimer, pyqtClassInfo, pyqtSlot
from PyQt6.QtDBus import QDBusAbstractAdaptor, QDBusConnection

NAME, PATH = "org.freedesktop.Notifications", "/org/freedesktop/Notifications"


@pyqtClassInfo("D-Bus Interface", NAME)
class Notices(QDBusAbstractAdaptor):
    """The one method of the specification that is asked for."""

    @pyqtSlot(str, "uint", str, str, str, "QStringList", "QVariantMap", int)
    def Notify(self, program, replaces, icon, title, text, acts, hints, expires):
        print("TOLD", program, icon, title, text, sep="|", flush=True)
        QTimer.singleShot(100, QCoreApplication.quit)


app = QCoreApplication(sys.argv)
shown = QObject()
adaptor = Notices(shown)
bus = QDBusConnection.sessionBus()
assert bus.registerObject(PATH, shown) and bus.registerService(NAME)
print("READY", flush=True)
QTimer.singleShot(60_000, app.quit)
app.exec()
