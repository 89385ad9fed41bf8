// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/code_sheet.h"

#include "app/widgets/text.h"
#include "core/judge/program_around.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

namespace badger::app
{

CodeSheet::CodeSheet(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_name(new QLabel), m_style(new QComboBox),
      m_view(new CodeView(theme))
{
    setObjectName("sheet");
    setAttribute(Qt::WA_StyledBackground);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(2, 2, 2, 2);
    layout->setSpacing(0);
    m_name->setProperty("quiet", true);
    m_name->setContentsMargins(theme.space(1), 0, 0, 0);
    m_name->setTextFormat(Qt::PlainText);
    m_name->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_style->setObjectName("style");
    m_style->setAccessibleName(tr("How the board program waits"));
    m_style->addItem(tr("waits as chosen"));
    m_style->addItem(tr("waits that block"));
    m_style->addItem(tr("timed waits"));
    connect(m_style, &QComboBox::activated, this, [this] { refresh(); });
    auto *head = new QHBoxLayout;
    head->setContentsMargins(0, 0, 0, 0);
    head->addWidget(m_name, 1);
    head->addWidget(m_style);
    layout->addLayout(head);
    layout->addWidget(m_view, 1);
}

Result<boardcode::BoardCode> CodeSheet::code() const
{
    const kit::Assembly car(*m_session.car(), m_session.catalogue());
    const auto &program = *m_session.program();
    auto writing = judge::writing(m_session.workshop(), car, program);
    if (const int style = m_style->currentIndex(); style > 0)
        writing.style = style == 1 ? boardcode::Style::Blocking : boardcode::Style::Timed;
    for (const auto &error : errors())
        writing.warnings.push_back(english(error));
    return boardcode::boardCode(program, car, writing);
}

std::vector<Say> CodeSheet::errors() const
{
    const auto *j = m_session.current();
    return j ? judge::errorsAgainstWriting(*j) : std::vector<Say>();
}

bool CodeSheet::refresh()
{
    const auto *program = m_session.program();
    if (m_session.car() == nullptr || program == nullptr)
        return false;
    const bool waits = std::any_of(program->states.begin(), program->states.end(),
                                   [](const rules::State &s) { return s.wait.has_value(); });
    m_style->setVisible(waits);
    const auto text = code();
    if (!text) {
        m_name->clear();
        m_view->showReason(str(text.error().text()));
        return false;
    }
    m_name->setText(str(text->files.front().name));
    m_view->show(*text);
    return true;
}

} // namespace badger::app
