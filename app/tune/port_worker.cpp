// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/port_worker.h"

#include <QFileInfo>
#include <sys/file.h>

namespace badger::app
{

namespace
{

constexpr int tick_ms = 50;
constexpr double askEvery_s = 0.5;
constexpr double tryEvery_s = 0.3;

} // namespace

PortWorker::PortWorker()
{
    m_clock.start();
    connect(&m_port, &QSerialPort::readyRead, this, &PortWorker::read);
    connect(&m_port, &QSerialPort::errorOccurred, this, &PortWorker::lost);
    connect(&m_tick, &QTimer::timeout, this, &PortWorker::tick);
}

bool PortWorker::tryOpen(QString &trouble)
{
    // The port's own words say little; what a person can do about it does.
    if (!QFileInfo::exists(m_path)) {
        trouble = tr("There is no port %1: look whether the board is plugged in, and under which "
                     "name.")
                      .arg(m_path);
        return false;
    }
    // A link may point to another port the next time.
    m_port.setPortName(QFileInfo(m_path).canonicalFilePath());
    m_port.setBaudRate(m_baud);
    const auto held =
        tr("%1 is held by another program, or you have no right to it: close the other "
           "serial window, or ask for the group dialout.")
            .arg(m_path);
    if (m_port.open(QIODevice::ReadWrite)) {
        // The port's own lock keeps off programs of its kind; this one also the command line's.
        if (flock(m_port.handle(), LOCK_EX | LOCK_NB) != 0) {
            m_port.close();
            trouble = held;
            return false;
        }
        m_assembler.interrupted();
        m_asked_s = -1.0;
        return true;
    }
    switch (m_port.error()) {
    case QSerialPort::PermissionError:
        trouble = held;
        break;
    default:
        trouble = tr("%1 cannot be opened: %2.").arg(m_path, m_port.errorString());
    }
    return false;
}

void PortWorker::open(const QString &path, int baud)
{
    close();
    m_path = path;
    m_baud = baud;
    m_assembler = link::Assembler(static_cast<std::uint32_t>(baud));
    m_events.clear();
    QString trouble;
    if (!tryOpen(trouble)) {
        emit stateChanged(PortListener::State::Closed, trouble);
        return;
    }
    m_wanted = true;
    m_tick.start(tick_ms);
    emit stateChanged(PortListener::State::Open, {});
}

void PortWorker::close()
{
    const bool was = m_wanted;
    m_wanted = false;
    m_tick.stop();
    if (m_port.isOpen())
        m_port.close();
    if (was)
        emit stateChanged(PortListener::State::Closed, {});
}

void PortWorker::read()
{
    const auto bytes = m_port.readAll();
    for (auto &event :
         m_assembler.take({bytes.constData(), static_cast<size_t>(bytes.size())}, now_s()))
        m_events.push_back(std::move(event));
}

void PortWorker::lost(QSerialPort::SerialPortError error)
{
    if (error == QSerialPort::NoError || !m_wanted || !m_port.isOpen())
        return;
    m_port.close();
    m_assembler.interrupted();
    m_tried_s = now_s();
    emit stateChanged(PortListener::State::Away,
                      tr("The board is gone. Plug it in again: listening goes on."));
}

void PortWorker::tick()
{
    const double now = now_s();
    if (!m_port.isOpen() && now - m_tried_s >= tryEvery_s) {
        m_tried_s = now;
        QString trouble;
        if (tryOpen(trouble))
            emit stateChanged(PortListener::State::Open, {});
    }
    if (m_port.isOpen() && !m_assembler.header() && now - m_asked_s >= askEvery_s) {
        m_port.write(link::askForHeader.data(), static_cast<qint64>(link::askForHeader.size()));
        m_asked_s = now;
    }
    m_assembler.take({}, now); // silence begins with the listening
    Heard h;
    h.events = std::exchange(m_events, {});
    h.now_s = now;
    h.rate_hz = m_assembler.rate_hz(now);
    h.tally = m_assembler.tally();
    h.hearing = m_assembler.hearing(now);
    if (h.hearing == link::Hearing::Rubbish)
        h.likelyRate = m_assembler.likelyRate();
    if (h.hearing == link::Hearing::Stranger)
        h.strange = QString::fromStdString(m_assembler.lastStrange());
    h.header = m_assembler.header();
    emit heard(h);
}

} // namespace badger::app
