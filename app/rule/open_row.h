// SPDX-License-Identifier: GPL-3.0-or-later
// What the program leaves open, with what this car would take for it.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "core/judge/proposed.h"

#include <QFrame>

class QGridLayout;

namespace badger::app
{

/// One line an open number with its proposal, its reason and a press that takes it; and one press
/// that takes all. Nothing is taken unasked, and what is taken is marked as proposed. Hidden where
/// nothing is open that could be proposed.
class OpenRow final : public QFrame
{
    Q_OBJECT
public:
    OpenRow(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

private:
    void take(const std::vector<judge::ProposedValue> &some, const QString &text);
    void addLine(int row, const judge::ProposedValue &proposed);

    Session &m_session;
    const Theme &m_theme;
    QGridLayout *m_grid;
    std::vector<QString> m_shown; ///< the lines as they stand
};

} // namespace badger::app
