// SPDX-License-Identifier: GPL-3.0-or-later
// One condition of a window: what is varied, and from where to where.
#pragma once

#include "app/floor/key_form.h"
#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "core/window/row.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QPushButton;

namespace badger::app
{

/// Stands beside its page and blocks nothing; what is typed is seen at both ends of its range
/// before it is taken.
class RowDialog final : public QDialog
{
    Q_OBJECT
public:
    /// `from`: a row to begin with; a plain board across the way where it has none of a kind's.
    RowDialog(Session &session, const Theme &theme, const window::Row &from, QWidget *parent);
    /// "straight:angle=0deg..18deg"
    std::string text() const;
    void pickKind(const std::string &kind);

signals:
    void taken(const QString &text);

private:
    void renew();
    void fill(const window::Row &from);
    QWidget *makeFoot();

    Session &m_session;
    const Theme &m_theme;
    QComboBox *m_kinds;
    KeyForm *m_form;
    QWidget *m_preview;
    QLabel *m_said;
    QPushButton *m_take;
    std::vector<floor::Floor>
        m_ends; ///< the floor at both ends of what is drawn; one if they are alike
};

} // namespace badger::app
