// SPDX-License-Identifier: GPL-3.0-or-later
// A row of readings, typed, and under each what the car does and why.
#pragma once

#include "app/theme/theme.h"
#include "core/machine/play.h"

#include <QTimer>
#include <QWidget>

class QLineEdit;
class QToolButton;

namespace badger::app
{

/// Readings are parted by commas, those of several sensors by spaces: "60 41 40, 20 41 40". Each
/// holds until what follows from it has come to an end. What it does is stepped through or played,
/// state by state.
class TryRow final : public QWidget
{
    Q_OBJECT
public:
    explicit TryRow(const Theme &theme, QWidget *parent = nullptr);
    /// Plays the text anew; a program of another shape gets readings of its own to begin with.
    void show(const rules::Program &program, const machine::CarFacts &facts);
    QString said() const;              ///< what came of it, entry by entry
    void add(const QString &readings); ///< one entry more, as if typed
    /// One sensor's reading as the others stand: an entry more, or the last one changed.
    void put(const QString &sensor, const QString &reading, bool more);
    void step();        ///< to the next state that it gets into; after the last to the first
    void play(bool on); ///< steps by itself, to the end
    bool isPlaying() const { return m_clock.isActive(); }

    /// Of the last entry, where it is one number.
    std::optional<double> lastNumber() const { return m_last; }
    QString why() const; ///< of the last entry

signals:
    void picked(const QString &state);
    void changed(); ///< other readings are tried

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    bool event(QEvent *event) override;

private:
    static constexpr int mostEntries = 12; ///< that are tried
    struct Entry {
        QString readings;
        QStringList states;
        QStringList why;
        int mode = -1;          ///< at its end
        std::vector<int> modes; ///< that it gets into, in order; the one it stays in
        rules::Act act = rules::Act::Stand;
        double at_s = 0.0;
        bool nothing = false; ///< nothing new was done
    };
    void reckon();
    std::vector<machine::Given> typed(double step_s);
    void follow(const std::vector<machine::Given> &given);
    void goTo(int entry, int at);
    QRectF area(size_t entry) const;
    QString suggestion() const;

    const Theme &m_theme;
    rules::Program m_program;
    machine::Machine m_machine;
    bool m_usable = false;
    QString m_problem;
    std::string m_columns; ///< of the program before
    QLineEdit *m_text;
    std::vector<Entry> m_entries;
    std::optional<double> m_last;
    QToolButton *m_step;
    QToolButton *m_play;
    QTimer m_clock;
    int m_entry = -1; ///< where the steps stand
    int m_at = -1;    ///< in its modes
};

} // namespace badger::app
