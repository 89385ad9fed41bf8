// SPDX-License-Identifier: GPL-3.0-or-later
// How does the program speak without standing in the way?
#pragma once

#include "app/theme/theme.h"

#include <QWidget>
#include <functional>

class QHBoxLayout;
class QLabel;

namespace badger::app
{

/// A message over the page's lower edge, and what can be done about it. Never modal, and nothing
/// moves for it. Escape or the button on its right closes it, and so does whatever makes it untrue.
class MessageBar final : public QWidget
{
    Q_OBJECT
public:
    struct Choice {
        QString text;
        std::function<void()> act;
    };
    enum class Kind { Quiet, Error };
    /// How long is the message true?
    enum class Until {
        NextEdit, ///< it speaks of the last edit, or of one that was refused
        Saved,    ///< it speaks of unsaved work or of the file
        Dismissed
    };

    MessageBar(const Theme &theme, QWidget *page);
    void say(const QString &message, Kind kind, Until until, std::vector<Choice> choices = {});
    /// The workshop was edited, or an edit was taken back.
    void edited();
    /// The workshop is saved, or another one is open.
    void settled();
    /// Lies over the page's lower edge, right of `left_px`.
    void place(int left_px);
    QString message() const;
    void close();
    /// For tests and for the keyboard: runs the choice with this text.
    bool choose(const QString &text);

signals:
    void closed();

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    const Theme &m_theme;
    QLabel *m_label;
    QHBoxLayout *m_buttons;
    std::vector<Choice> m_choices;
    Until m_until = Until::Dismissed;
    int m_left_px = 0;
};

} // namespace badger::app
