// SPDX-License-Identifier: GPL-3.0-or-later
// Wire: which wire goes where, and is anything wrong?
#pragma once

#include "app/shell/station_view.h"
#include "app/wire/harness_view.h"

class QCheckBox;
class QComboBox;
class QCompleter;
class QLabel;
class QLineEdit;
class QPushButton;

namespace badger::app
{

class WireStation final : public StationView
{
    Q_OBJECT
public:
    WireStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    Sum sum() const override;
    void reveal(const QString &target) override;
    QList<QAction *> stationActions() const override { return {m_add, m_remove, m_takePins}; }

private:
    QWidget *makeEditor();
    void edit(const QString &text, const std::function<void(kit::Car &)> &change);
    void showWire(int index);
    void takeWire();
    void addWire();
    void removeWire();
    void takePins();
    void jumperToggled(bool on);
    std::string fullName(const QString &typed) const;

    HarnessView *m_harness;
    QWidget *m_editor;
    QLineEdit *m_from;
    QLineEdit *m_to;
    QComboBox *m_colour;
    QPushButton *m_take;
    QCheckBox *m_jumper;
    QLabel *m_pinsDiffer;
    QAction *m_add;
    QAction *m_remove;
    QAction *m_takePins;
    std::string m_jumperTerminal;
};

} // namespace badger::app
