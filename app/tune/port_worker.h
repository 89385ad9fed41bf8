// SPDX-License-Identifier: GPL-3.0-or-later
// The thread's half of a listener.
#pragma once

#include "app/tune/port_listener.h"

#include <QElapsedTimer>
#include <QSerialPort>
#include <QTimer>

namespace badger::app
{

class PortWorker final : public QObject
{
    Q_OBJECT
public:
    PortWorker();

public slots:
    void open(const QString &path, int baud);
    void close();

signals:
    void heard(const badger::app::Heard &heard);
    void stateChanged(badger::app::PortListener::State state, const QString &trouble);

private:
    bool tryOpen(QString &trouble);
    void read();
    void lost(QSerialPort::SerialPortError error);
    void tick();
    double now_s() const { return static_cast<double>(m_clock.nsecsElapsed()) * 1e-9; }

    QSerialPort m_port{this};
    QTimer m_tick{this};
    QElapsedTimer m_clock;
    link::Assembler m_assembler;
    std::vector<link::Event> m_events;
    QString m_path;
    int m_baud = 115200;
    bool m_wanted = false;
    double m_asked_s = -1.0;
    double m_tried_s = 0.0;
};

} // namespace badger::app
