// SPDX-License-Identifier: GPL-3.0-or-later
// The board program beside the rules it is made from, and how its states wait.
#pragma once

#include "app/rule/code_view.h"
#include "app/shell/session.h"

class QComboBox;
class QLabel;

namespace badger::app
{

class CodeSheet final : public QWidget
{
    Q_OBJECT
public:
    CodeSheet(Session &session, const Theme &theme, QWidget *parent = nullptr);

    /// Shows the text of the car's program; why there is none where it cannot be written. True:
    /// there is a text.
    bool refresh();
    void light(const QString &tag) { m_view->light(tag); }
    /// What stands against loading it: in the head of what code() gives.
    std::vector<Say> errors() const;
    Result<boardcode::BoardCode> code() const;

private:
    Session &m_session;
    QLabel *m_name;
    QComboBox *m_style;
    CodeView *m_view;
};

} // namespace badger::app
