// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/code_view.h"

#include <Qsci/qscilexercpp.h>

namespace badger::app
{

namespace
{
constexpr int litMarker = 8;
} // namespace

CodeView::CodeView(const Theme &theme, QWidget *parent)
    : QsciScintilla(parent), m_theme(theme), m_lexer(new QsciLexerCPP(this))
{
    setReadOnly(true);
    setUtf8(true);
    setLexer(m_lexer);
    setMarginWidth(0, 0);
    setMarginWidth(1, 0);
    setFrameShape(QFrame::NoFrame);
    setCaretWidth(0);
    setTabWidth(4);
    SendScintilla(SCI_SETSCROLLWIDTHTRACKING, 1);
    SendScintilla(SCI_SETSCROLLWIDTH, 1);
    SendScintilla(SCI_SETMARGINLEFT, 0, 10);
    markerDefine(QsciScintilla::Background, litMarker);
    setAccessibleName(tr("Board program"));
    // Tab leaves the view: there is nothing to type here.
    SendScintilla(SCI_CLEARCMDKEY, QsciScintillaBase::SCK_TAB);
    applyTheme();
}

void CodeView::applyTheme()
{
    // The editor sizes its type in points, the theme in pixels.
    auto font = m_theme.figures(Type::Small);
    font.setPointSizeF(font.pixelSize() * 72.0 / logicalDpiY());
    const auto ink = m_theme.color(Tone::Ink);
    const auto sheet = m_theme.color(Tone::Sheet);
    m_lexer->setDefaultFont(font);
    m_lexer->setDefaultColor(ink);
    m_lexer->setDefaultPaper(sheet);
    m_lexer->setFont(font);
    m_lexer->setColor(ink);
    m_lexer->setPaper(sheet);
    m_lexer->setColor(m_theme.color(Tone::Ink2), QsciLexerCPP::CommentLine);
    m_lexer->setColor(m_theme.color(Tone::Result), QsciLexerCPP::Keyword);
    m_lexer->setColor(m_theme.color(Tone::Ochre), QsciLexerCPP::Number);
    m_lexer->setColor(m_theme.color(Tone::Ink2), QsciLexerCPP::PreProcessor);
    setPaper(sheet);
    setColor(ink);
    setMarkerBackgroundColor(m_theme.color(Tone::Stand), litMarker);
    setSelectionBackgroundColor(m_theme.color(Tone::Turn));
    setSelectionForegroundColor(ink);
    recolor();
}

void CodeView::show(const rules::BoardCode &code)
{
    const auto text = QString::fromStdString(code.files.front().text);
    m_code = code;
    setWrapMode(WrapNone);
    if (text != this->text()) {
        const int first = firstVisibleLine();
        setText(text);
        setFirstVisibleLine(first);
    }
    light(m_tag);
}

void CodeView::showReason(const QString &reason)
{
    m_code = {};
    setWrapMode(WrapWord);
    setText("// " + tr("No board program is written yet.") + "\n// " +
            QString(reason).replace('\n', "\n// ") + "\n");
    markerDeleteAll(litMarker);
}

void CodeView::light(const QString &tag)
{
    markerDeleteAll(litMarker);
    const bool isNew = tag != m_tag;
    m_tag = tag;
    int first = -1;
    for (const auto &t : m_code.tags) {
        if (QString::fromStdString(t.tag) != tag)
            continue;
        markerAdd(t.line, litMarker);
        if (first < 0)
            first = t.line;
    }
    if (isNew && first >= 0)
        setFirstVisibleLine(std::max(0, first - 4));
}

} // namespace badger::app
