// SPDX-License-Identifier: GPL-3.0-or-later
// A new floor from a few numbers: a small picture of each kind, its numbers, and what they make.
#pragma once

#include "app/floor/key_form.h"
#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "core/floor/generate.h"

#include <QAbstractButton>
#include <QDialog>
#include <QLineEdit>
#include <map>

class QLabel;
class QPainter;
class QPushButton;

namespace badger::app
{

/// A floor as a sketch in ink, with the car's start as a small wedge.
void paintFloorSketch(QPainter &p, const QRectF &box, const floor::Floor &floor,
                      const Theme &theme);

/// Stands beside its station and blocks nothing; it is gone when the floor is made.
class NewFloor final : public QDialog
{
    Q_OBJECT
public:
    NewFloor(Session &session, const Theme &theme, QWidget *parent);
    void pickKind(const QString &name);

private:
    void renew();
    void make();
    std::map<std::string, std::string> typed() const;

    Session &m_session;
    const Theme &m_theme;
    std::string m_kind;
    std::vector<QAbstractButton *> m_kinds;
    KeyForm *m_form;
    QLineEdit *m_name;
    QLabel *m_said;
    QWidget *m_preview;
    QPushButton *m_make;
    Result<floor::Floor> m_floor = tl::unexpected(Error{});
    Result<floor::Floor> m_drawn = tl::unexpected(Error{}); ///< the last that could be made
};

} // namespace badger::app
