// SPDX-License-Identifier: GPL-3.0-or-later
// How does a person choose one of a few things that all stay in view?
#pragma once

#include <QButtonGroup>
#include <QWidget>

namespace badger::app
{

/// A row of buttons of which at most one is down.
class Choice final : public QWidget
{
    Q_OBJECT
public:
    explicit Choice(const QStringList &labels, QWidget *parent = nullptr);
    /// -1: none is chosen.
    void setIndex(int index);
    int index() const { return m_group.checkedId(); }

signals:
    void chosen(int index); ///< by a person

private:
    QButtonGroup m_group;
};

} // namespace badger::app
