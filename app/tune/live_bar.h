// SPDX-License-Identifier: GPL-3.0-or-later
// The board that is listened to: port, rate, the number as it is now, and its last half minute.
#pragma once

#include "app/theme/theme.h"
#include "app/tune/live_plot.h"
#include "app/tune/port_listener.h"
#include "app/tune/standin_bench.h"
#include "core/tune/record.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QHBoxLayout;
class QPushButton;
class QVBoxLayout;

namespace badger::app
{

class LiveBar final : public QWidget
{
    Q_OBJECT
public:
    explicit LiveBar(const Theme &theme, QWidget *parent = nullptr);

    PortListener &listener() { return m_listener; }
    /// Listens to this port, as if a person had chosen it.
    void listen(const QString &path, int baud);
    bool isListening() const { return m_listener.state() != PortListener::State::Closed; }

    /// Which channel belongs to what is measured: the one that is called like it, else the first in
    /// its unit.
    void prefer(const QString &name, link::ChannelUnit unit);
    link::ChannelUnit channelUnit() const;

    /// Readings of the chosen channel are recorded from start to stop.
    bool isRecording() const { return m_recording.has_value(); }
    void startRecording();
    tune::Stretch stopRecording();
    /// Volts of a channel called "battery", the median of its last readings.
    std::optional<double> battery_V() const;
    /// It is the stand-in that speaks: what it says is made up.
    bool isMadeUp() const;
    StandinBench &standin() { return *m_standin; }

signals:
    void said(const QString &text, bool isError);
    void recordingChanged();
    void listeningChanged();

private:
    void take(const Heard &heard);
    void sample(const link::Sample &sample, double at_s);
    void showNumbers(const Heard &heard);
    void showState(PortListener::State state, const QString &trouble);
    void showHeader(const link::Header &header);
    void toggle();
    void practise();
    void makeFields();
    void makeStandin(QHBoxLayout &row, QVBoxLayout &below);
    int channel() const;

    const Theme &m_theme;
    PortListener m_listener;
    QComboBox *m_port;
    QComboBox *m_baud;
    QPushButton *m_listen;
    QComboBox *m_channel;
    QLabel *m_now;
    QLabel *m_numbers;
    QLabel *m_state;
    QPushButton *m_takeRate;
    QPushButton *m_practise;
    StandinBench *m_standin;
    LivePlot *m_plot;
    std::optional<link::Header> m_header;
    QString m_preferredName;
    link::ChannelUnit m_preferredUnit = link::ChannelUnit::Microseconds;
    std::deque<std::optional<double>> m_last; ///< of the chosen channel
    std::deque<double> m_battery_mV;
    std::optional<std::uint32_t> m_lastBoard_ms;
    double m_at_s = 0.0; ///< by the board's clock, gone on over restarts
    std::optional<std::vector<double>> m_recording;
    std::uint32_t m_proposed = 0;
};

} // namespace badger::app
