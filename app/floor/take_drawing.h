// SPDX-License-Identifier: GPL-3.0-or-later
// A drawing is looked at before it becomes a floor: which colour is what, and how large is it?
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "core/floor/from_drawing.h"

#include <QDialog>
#include <QLineEdit>

class QComboBox;
class QLabel;
class QPushButton;

namespace badger::app
{

/// A read floor becomes one of the workshop, under a free name, and is selected.
void takeFloor(Session &session, floor::Floor floor);

/// Shows the drawing with each colour as what it is said to be; gone when the floor is made.
class TakeDrawing final : public QDialog
{
    Q_OBJECT
public:
    TakeDrawing(Session &session, const Theme &theme, drawing::Drawing drawing, const QString &name,
                QWidget *parent);

private:
    void renew();
    void take();
    QWidget *makeColours();

    Session &m_session;
    const Theme &m_theme;
    drawing::Drawing m_drawing;
    std::vector<drawing::Colour> m_colours;
    std::vector<QComboBox *> m_meanings; ///< one a colour
    QLineEdit *m_scale;
    QLineEdit *m_name;
    QLabel *m_said;
    QWidget *m_preview;
    QPushButton *m_take;
    Result<floor::FromDrawing> m_taken = tl::unexpected(Error{});
};

} // namespace badger::app
