// SPDX-License-Identifier: GPL-3.0-or-later
// A car without a program: what can it begin with?
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"

#include "core/io/templates.h"

#include <QWidget>

class QGridLayout;
class QLabel;

namespace badger::app
{

/// Offers a new program and the programs that other cars of the workshop run, each as a small
/// picture of its bands.
class RuleStart final : public QWidget
{
    Q_OBJECT
public:
    RuleStart(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

private:
    void addProgram(const rules::Program &program, const QString &title, const QString &line);
    void add(class PictureButton *button);
    void addTemplate(const io::Template &of, const io::Roles &roles);
    void takeProgram(const Id<rules::Program> &id);
    /// `choices` give the program its shape; what else is to be chosen stays open.
    void takeTemplate(const io::Template &of, const io::Choices &choices);

    Session &m_session;
    const Theme &m_theme;
    QLabel *m_words;
    QGridLayout *m_grid;
    int m_count = 0;
};

} // namespace badger::app
