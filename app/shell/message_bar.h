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

/// A line under the menu: a message, and what can be done about it. Never modal; Escape or the
/// button on its right closes it.
class MessageBar final : public QWidget
{
    Q_OBJECT
public:
    struct Choice {
        QString text;
        std::function<void()> act;
    };
    explicit MessageBar(const Theme &theme, QWidget *parent = nullptr);
    void say(const QString &message, bool isError, std::vector<Choice> choices = {});
    QString message() const;
    void close();
    /// For tests and for the keyboard: runs the choice with this text.
    bool choose(const QString &text);

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    const Theme &m_theme;
    QLabel *m_label;
    QHBoxLayout *m_buttons;
    std::vector<Choice> m_choices;
};

} // namespace badger::app
