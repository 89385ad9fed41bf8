// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/code_view.h"

#include "app/widgets/text.h"
#include <Qsci/qscilexercpp.h>
#include <Qsci/qscilexerpython.h>

namespace badger::app
{

namespace
{
constexpr int litMarker = 8;
} // namespace

CodeView::CodeView(const Theme &theme, QWidget *parent)
    : QsciScintilla(parent), m_theme(theme), m_cpp(new QsciLexerCPP(this)),
      m_python(new QsciLexerPython(this))
{
    setReadOnly(true);
    setUtf8(true);
    setLexer(m_cpp);
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

void CodeView::dress(QsciLexer *lexer)
{
    // The editor sizes its type in points, the theme in pixels.
    auto font = m_theme.figures(Type::Small);
    font.setPointSizeF(font.pixelSize() * 72.0 / logicalDpiY());
    const auto ink = m_theme.color(Tone::Ink);
    const auto sheet = m_theme.color(Tone::Sheet);
    lexer->setDefaultFont(font);
    lexer->setDefaultColor(ink);
    lexer->setDefaultPaper(sheet);
    lexer->setFont(font);
    lexer->setColor(ink);
    lexer->setPaper(sheet);
}

void CodeView::applyTheme()
{
    const auto ink = m_theme.color(Tone::Ink);
    const auto sheet = m_theme.color(Tone::Sheet);
    dress(m_cpp);
    m_cpp->setColor(m_theme.color(Tone::Ink2), QsciLexerCPP::CommentLine);
    m_cpp->setColor(m_theme.color(Tone::Result), QsciLexerCPP::Keyword);
    m_cpp->setColor(m_theme.color(Tone::Ochre), QsciLexerCPP::Number);
    m_cpp->setColor(m_theme.color(Tone::Ink2), QsciLexerCPP::PreProcessor);
    dress(m_python);
    m_python->setColor(m_theme.color(Tone::Ink2), QsciLexerPython::Comment);
    m_python->setColor(m_theme.color(Tone::Result), QsciLexerPython::Keyword);
    m_python->setColor(m_theme.color(Tone::Ochre), QsciLexerPython::Number);
    setPaper(sheet);
    setColor(ink);
    setMarkerBackgroundColor(m_theme.color(Tone::Stand), litMarker);
    setSelectionBackgroundColor(m_theme.color(Tone::Turn));
    setSelectionForegroundColor(ink);
    recolor();
}

void CodeView::show(const boardcode::BoardCode &code)
{
    m_code = code;
    QsciLexer *wanted = m_cpp;
    if (code.files.front().name.ends_with(".py"))
        wanted = m_python;
    if (lexer() != wanted)
        setLexer(wanted);
    setWrapMode(code.files.front().name.ends_with(".txt") ? WrapWord : WrapNone);
    replaceText(code.files.front().text);
    light(m_tag);
}

/// Only what differs is put in: a drag changes one number of the text at each step, and the view
/// keeps its place and its colours.
void CodeView::replaceText(const std::string &text)
{
    if (text == m_text)
        return;
    const auto shorter = std::min(text.size(), m_text.size());
    size_t before = 0;
    while (before < shorter && text[before] == m_text[before])
        ++before;
    size_t after = 0;
    while (after < shorter - before &&
           text[text.size() - 1 - after] == m_text[m_text.size() - 1 - after])
        ++after;
    // Whole characters: a byte that goes on with one belongs to what differs.
    const auto goesOn = [](char c) { return (static_cast<unsigned char>(c) & 0xC0) == 0x80; };
    while (before > 0 && before < shorter && (goesOn(text[before]) || goesOn(m_text[before])))
        --before;
    while (after > 0 && goesOn(text[text.size() - after]))
        --after;
    const auto middle = text.substr(before, text.size() - before - after);
    SendScintilla(SCI_SETREADONLY, 0UL);
    SendScintilla(SCI_SETTARGETSTART, before);
    SendScintilla(SCI_SETTARGETEND, m_text.size() - after);
    SendScintilla(SCI_REPLACETARGET, middle.size(), middle.data());
    SendScintilla(SCI_SETREADONLY, 1UL);
    m_text = text;
}

void CodeView::showReason(const QString &reason)
{
    m_code = {};
    setWrapMode(WrapWord);
    replaceText(("// " + tr("No board program is written yet.") + "\n// " +
                 QString(reason).replace('\n', "\n// ") + "\n")
                    .toStdString());
    markerDeleteAll(litMarker);
    m_lit.clear();
}

void CodeView::light(const QString &tag)
{
    const bool isNew = tag != m_tag;
    m_tag = tag;
    std::vector<int> lit;
    for (const auto &t : m_code.tags)
        if (str(t.tag) == tag)
            lit.push_back(t.line);
    const bool moved = lit != m_lit;
    if (moved) { // marking again would paint the whole view again
        markerDeleteAll(litMarker);
        for (const int line : lit)
            markerAdd(line, litMarker);
        m_lit = lit;
    }
    if ((isNew || moved) && !lit.empty())
        setFirstVisibleLine(std::max(0, lit.front() - 1));
}

} // namespace badger::app
