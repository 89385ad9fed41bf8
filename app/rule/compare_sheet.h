// SPDX-License-Identifier: GPL-3.0-or-later
// Two programs side by side, by what they do and what that costs on this car.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "core/regions/compare.h"

#include <QWidget>

class QComboBox;
class QPushButton;

namespace badger::app
{

/// The car's program against itself with another word in one sentence, or against another program
/// of the workshop. Each difference says at which readings, and what each does there; each cost has
/// a bar for each. Never by text.
class CompareSheet final : public QWidget
{
    Q_OBJECT
public:
    CompareSheet(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

signals:
    /// The word is taken into the program.
    void chosen(const QString &target, int option);

private:
    /// What the program can be compared with.
    struct Other {
        QString words;
        QString target; ///< of a word; empty: another program
        int option = 0;
        rules::Program program;
    };
    class Lines;
    std::vector<Other> others() const;
    void show(int index);

    Session &m_session;
    const Theme &m_theme;
    QComboBox *m_with;
    QPushButton *m_take;
    Lines *m_lines;
    std::vector<Other> m_others;
};

} // namespace badger::app
