// SPDX-License-Identifier: GPL-3.0-or-later
// The page of sentences under the hand: mouse, keys, menus and the field in which is typed.
#include "app/rule/sentence_page.h"

#include "app/widgets/text.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <algorithm>

namespace badger::app
{

using sentences::Sentence;
using sentences::Token;

bool SentencePage::isChoice(size_t placed) const
{
    const auto kind = tokenOf(m_layout.tokens[placed]).kind;
    return kind == Token::Kind::Value || kind == Token::Kind::Word;
}

void SentencePage::mousePressEvent(QMouseEvent *event)
{
    setFocus();
    for (const auto &link : m_layout.links)
        if (link.area.contains(event->position()))
            return emit mendTaken(link.finding, link.way);
    for (const auto &add : m_layout.adds)
        if (add.area.adjusted(-2, 0, 2, 0).contains(event->position())) {
            if (add.sentence < 0)
                emit readingWanted(mapToGlobal(add.area.bottomLeft().toPoint()));
            else
                emit rewritten(add.sentence, static_cast<int>(add.by));
            return;
        }
    for (size_t i = 0; i < m_layout.tokens.size(); ++i)
        if (m_layout.tokens[i].area.adjusted(-2, 0, 2, 0).contains(event->position())) {
            const auto &token = tokenOf(m_layout.tokens[i]);
            if (isChoice(i))
                openAt(i);
            else if (token.kind == Token::Kind::Name)
                emit picked(str(token.target));
            return;
        }
    for (const auto &line : m_layout.lines)
        if (line.finding < 0 && line.area.contains(event->position()))
            emit picked(str(m_sentences[line.sentence].about));
}

void SentencePage::keyPressEvent(QKeyEvent *event)
{
    const int key = event->key();
    const int n = static_cast<int>(m_layout.tokens.size());
    if (key == Qt::Key_Insert)
        return wish(currentSentence(), sentences::Rewrite::AddRule);
    if (key == Qt::Key_Delete)
        return wish(currentSentence(), sentences::Rewrite::Remove);
    if (event->modifiers() == Qt::AltModifier && (key == Qt::Key_Up || key == Qt::Key_Down))
        return wish(currentSentence(),
                    key == Qt::Key_Up ? sentences::Rewrite::MoveUp : sentences::Rewrite::MoveDown);
    if ((key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_F2) && m_current >= 0)
        return openAt(static_cast<size_t>(m_current));
    const int step = key == Qt::Key_Right || key == Qt::Key_Down ? 1
                     : key == Qt::Key_Left || key == Qt::Key_Up  ? -1
                                                                 : 0;
    if (step == 0 || n == 0)
        return QWidget::keyPressEvent(event);
    const bool rows = key == Qt::Key_Up || key == Qt::Key_Down;
    const qreal from =
        m_current < 0 ? -1.0 : m_layout.tokens[static_cast<size_t>(m_current)].area.y();
    for (int i = m_current < 0 ? (step > 0 ? 0 : n - 1) : m_current + step; i >= 0 && i < n;
         i += step)
        if (isChoice(static_cast<size_t>(i)) &&
            (!rows || m_current < 0 || m_layout.tokens[static_cast<size_t>(i)].area.y() != from)) {
            m_current = i;
            break;
        }
    update();
}

int SentencePage::currentSentence() const
{
    return m_current >= 0 && m_current < static_cast<int>(m_layout.tokens.size())
               ? static_cast<int>(m_layout.tokens[static_cast<size_t>(m_current)].sentence)
               : -1;
}

int SentencePage::sentenceAt(const QPointF &position) const
{
    for (const auto &line : m_layout.lines)
        if (line.area.contains(position))
            return static_cast<int>(line.sentence);
    return -1;
}

/// What cannot be done at a sentence is not asked for.
void SentencePage::wish(int sentence, sentences::Rewrite what)
{
    if (sentence < 0)
        return;
    const auto possible =
        sentences::rewrites(m_program, m_sentences[static_cast<size_t>(sentence)]);
    if (std::find(possible.begin(), possible.end(), what) != possible.end())
        emit rewritten(sentence, static_cast<int>(what));
}

void SentencePage::contextMenuEvent(QContextMenuEvent *event)
{
    if (event->reason() == QContextMenuEvent::Mouse)
        return openMenu(sentenceAt(event->pos()), event->globalPos());
    if (m_current >= 0)
        openMenu(currentSentence(),
                 mapToGlobal(
                     m_layout.tokens[static_cast<size_t>(m_current)].area.bottomLeft().toPoint()));
}

void SentencePage::openMenu(int sentence, const QPoint &at)
{
    if (sentence < 0)
        return;
    const auto &here = m_sentences[static_cast<size_t>(sentence)];
    const auto possible = sentences::rewrites(m_program, here);
    if (possible.empty())
        return;
    auto *menu = new QMenu(this);
    menu->setObjectName("sentenceMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const auto what : possible) {
        auto words = str(sentences::words(what, m_program, here));
        if (what == sentences::Rewrite::AddRule)
            words += QStringLiteral("\tIns");
        else if (what == sentences::Rewrite::Remove)
            words += QStringLiteral("\tDel");
        else if (what == sentences::Rewrite::MoveUp || what == sentences::Rewrite::MoveDown)
            words += what == sentences::Rewrite::MoveUp ? tr("\tAlt+Up") : tr("\tAlt+Down");
        connect(menu->addAction(words), &QAction::triggered, this,
                [this, sentence, what] { emit rewritten(sentence, static_cast<int>(what)); });
    }
    if (here.kind == Sentence::Kind::Heading && here.go >= 0) {
        const auto target = QString("name:" + str(m_program.states[size_t(here.go)].name));
        connect(menu->addAction(tr("Rename it")), &QAction::triggered, this,
                [this, target] { open(target); });
    }
    menu->popup(at);
}

void SentencePage::goTo(const QString &target)
{
    for (size_t i = 0; i < m_layout.tokens.size(); ++i)
        if (isChoice(i) && tokenOf(m_layout.tokens[i]).target == target.toStdString()) {
            m_current = static_cast<int>(i);
            break;
        }
    setFocus();
    update();
}

void SentencePage::openField(const QString &target, const QString &text, const QRectF &area)
{
    m_editing = target;
    m_field->setText(text);
    m_field->setGeometry(area.adjusted(-4, 0, 60 * m_theme.scale(), 0).toRect());
    m_field->show();
    m_field->selectAll();
    m_field->setFocus();
}

void SentencePage::open(const QString &target)
{
    if (target.startsWith("name:")) {
        const auto area = areaOf("state:" + target.mid(5));
        return openField(target, target.mid(5), area);
    }
    for (size_t i = 0; i < m_layout.tokens.size(); ++i)
        if (isChoice(i) && tokenOf(m_layout.tokens[i]).target == target.toStdString()) {
            setFocus();
            return openAt(i);
        }
}

void SentencePage::openAt(size_t placed)
{
    m_current = static_cast<int>(placed);
    const auto &token = tokenOf(m_layout.tokens[placed]);
    const auto area = m_layout.tokens[placed].area;
    if (token.kind == Token::Kind::Value) {
        openField(str(token.target), token.unset ? QString() : str(token.text), area);
        return;
    }
    // The target lives on: taking an option makes the sentences anew.
    const auto target = str(token.target);
    const auto words = sentences::options(m_program, token.target);
    auto *menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (size_t i = 0; i < words.size(); ++i)
        connect(menu->addAction(str(words[i])), &QAction::triggered, this,
                [this, target, i] { emit chosen(target, static_cast<int>(i)); });
    menu->popup(mapToGlobal(area.bottomLeft().toPoint()));
}

void SentencePage::finishField(bool take)
{
    if (m_editing.isEmpty())
        return;
    const auto target = std::exchange(m_editing, QString());
    const auto text = m_field->text().trimmed();
    m_field->hide();
    setFocus();
    if (take && !text.isEmpty())
        emit typed(target, text);
}

/// The field keeps Enter and Escape to itself: the page would open the choice anew.
bool SentencePage::eventFilter(QObject *watched, QEvent *event)
{
    if (watched != m_field || event->type() != QEvent::KeyPress)
        return QWidget::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent *>(event)->key();
    const bool enter = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (!enter && key != Qt::Key_Escape)
        return QWidget::eventFilter(watched, event);
    finishField(enter);
    return true;
}

} // namespace badger::app
