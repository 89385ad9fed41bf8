// SPDX-License-Identifier: GPL-3.0-or-later
// "What if D4 is high?": a hand sets levels, charge, switch and wheels; the solved network answers.
#pragma once

#include "app/theme/theme.h"
#include "app/wire/harness_view.h"
#include "core/circuit/probe.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace badger::app
{

class Choice;

class MeterBar final : public QWidget
{
    Q_OBJECT
public:
    explicit MeterBar(const Theme &theme, QWidget *parent = nullptr);

    /// Turns it on; for a place where it costs no room. The bar shows itself while it is on.
    QPushButton *button() const { return m_on; }
    bool isOn() const;
    /// The car that is measured; levels of pins that it still has stay as they were set.
    void show(const kit::Car &car, const parts::Catalogue &catalogue);
    /// The terminal whose level is to be chosen; one that is no output leaves only its reading.
    void pick(const std::string &terminal);
    /// High where it was low, low where it was not; nothing where it is no output.
    void toggle(const std::string &terminal);

    /// What the harness shows of it; empty while it is off.
    std::optional<HarnessMeter> shown() const;
    /// "high · 4.97 V" of a terminal, "0.31 A" of a wire; empty while it is off or nothing is read.
    QString words(const std::string &terminal) const;
    QString wireWords(size_t wire) const;

signals:
    void changed();

private:
    void solve();
    void setLevel(int index);
    void refresh();

    const Theme &m_theme;
    QPushButton *m_on;
    QComboBox *m_charge;
    QCheckBox *m_open;
    QCheckBox *m_held;
    QLabel *m_terminal;
    Choice *m_level;
    QLabel *m_trouble;
    kit::Car m_car;
    parts::Catalogue m_catalogue;
    std::optional<circuit::Probe> m_probe;
    circuit::Setting m_setting;
    std::string m_picked;
};

} // namespace badger::app
