// SPDX-License-Identifier: GPL-3.0-or-later
// What happens to an exception that nobody caught?
#pragma once

#include <QApplication>

namespace badger::app
{

/// The application with a net under its event loop: an exception out of any event is said, and the
/// window goes on with what it had.
class Application final : public QApplication
{
    Q_OBJECT
public:
    using QApplication::QApplication;
    bool notify(QObject *receiver, QEvent *event) override;

signals:
    void failed(const QString &reason);

private:
    bool m_failing = false;
};

} // namespace badger::app
