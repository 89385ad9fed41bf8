// SPDX-License-Identifier: GPL-3.0-or-later
// The board program, as it is written; lines of what is picked are lit.
#pragma once

#include "app/theme/theme.h"
#include "core/boardcode/board_code.h"

#include <Qsci/qsciscintilla.h>

class QsciLexer;
class QsciLexerCPP;
class QsciLexerPython;

namespace badger::app
{

class CodeView final : public QsciScintilla
{
    Q_OBJECT
public:
    explicit CodeView(const Theme &theme, QWidget *parent = nullptr);
    void show(const boardcode::BoardCode &code);
    /// In place of a program: why there is none.
    void showReason(const QString &reason);
    /// Lights every line with this tag and scrolls to the first.
    void light(const QString &tag);
    void applyTheme();

private:
    void replaceText(const std::string &text);
    void dress(QsciLexer *lexer);

    std::string m_text; ///< as it stands in the view
    const Theme &m_theme;
    QsciLexerCPP *m_cpp;
    QsciLexerPython *m_python;
    boardcode::BoardCode m_code;
    QString m_tag;
    std::vector<int> m_lit; ///< lines
};

} // namespace badger::app
