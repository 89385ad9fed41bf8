// SPDX-License-Identifier: GPL-3.0-or-later
// No board at hand: the stand-in, started from here, and what lies before its sensors.
#pragma once

#include "app/theme/theme.h"
#include "core/tune/record.h"

#include <QProcess>
#include <QWidget>

class QHBoxLayout;
class QSlider;

namespace badger::app
{

class StandinBench final : public QWidget
{
    Q_OBJECT
public:
    explicit StandinBench(const Theme &theme, QWidget *parent = nullptr);
    ~StandinBench() override;

    bool isRunning() const { return m_process.state() != QProcess::NotRunning; }
    /// Starts it with its pretended line at this rate; ready() follows, or failed().
    void start(int baud);
    void stop();
    /// Shows what can be set for what is measured.
    void showFor(tune::What what);

signals:
    void ready(const QString &path); ///< its terminal
    void failed(const QString &reason);
    void ended();

private:
    struct Knob {
        QByteArray key; ///< of the stand-in, "distance"
        QWidget *widget = nullptr;
        std::vector<tune::What> of; ///< empty: always
    };
    void set(const QByteArray &key, const QByteArray &value);
    void addSlider(const QByteArray &key, const QString &name, int least, int most, int now,
                   const QString &unit, double share, std::vector<tune::What> of);
    void addChoices(const QByteArray &key, const QString &name,
                    const std::vector<std::pair<QByteArray, QString>> &choices,
                    std::vector<tune::What> of);
    void addFaults();
    void readPath();

    const Theme &m_theme;
    QProcess m_process;
    QHBoxLayout *m_row;
    std::vector<Knob> m_knobs;
    QByteArray m_fault;
    bool m_isReady = false;
};

} // namespace badger::app
