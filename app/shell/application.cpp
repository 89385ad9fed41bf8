// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/application.h"

#include <exception>

namespace badger::app
{

bool Application::notify(QObject *receiver, QEvent *event)
{
    QString reason;
    try {
        return QApplication::notify(receiver, event);
    } catch (const std::exception &e) {
        reason = QString::fromUtf8(e.what());
    } catch (...) {
        reason = tr("unknown");
    }
    // Whoever listens paints and saves; what fails in that is not told again.
    if (!m_failing) {
        m_failing = true;
        emit failed(reason);
        m_failing = false;
    }
    return false;
}

} // namespace badger::app
