// SPDX-License-Identifier: GPL-3.0-or-later
// A serial port that is listened to on a thread of its own.
#pragma once

#include "core/link/assembler.h"

#include <QObject>
#include <QString>
#include <QThread>
#include <memory>
#include <optional>
#include <vector>

namespace badger::app
{

/// What came in since the last time, and how it goes.
struct Heard {
    std::vector<link::Event> events;
    double now_s = 0.0; ///< by the listener's clock
    double rate_hz = 0.0;
    link::Tally tally;
    link::Hearing hearing = link::Hearing::Waiting;
    std::optional<link::RateGuess> likelyRate; ///< where it is rubbish
    QString strange;                           ///< what was heard last and is no line
    std::optional<link::Header> header;
};

/// Opens a port, hands on what an assembler makes of it twenty times a second, and opens it again
/// when it went away: a board that is unplugged and plugged in goes on.
class PortListener final : public QObject
{
    Q_OBJECT
public:
    enum class State { Closed, Opening, Open, Away };

    explicit PortListener(QObject *parent = nullptr);
    ~PortListener() override;

    /// A path that is in no list may be given, too: a pseudo-terminal, a link to one.
    void open(const QString &path, int baud);
    void close();
    State state() const { return m_state; }
    int baud() const { return m_baud; }

    /// Ports that the system lists, by path.
    static QStringList ports();

signals:
    void heard(const badger::app::Heard &heard);
    /// `trouble` is said where it is Closed though it was asked to open, and where it is Away.
    void stateChanged(badger::app::PortListener::State state, const QString &trouble);
    void wanted(const QString &path, int baud); ///< to the worker
    void unwanted();

private:
    QThread m_thread;
    State m_state = State::Closed;
    int m_baud = 115200;
};

} // namespace badger::app

Q_DECLARE_METATYPE(badger::app::Heard)
