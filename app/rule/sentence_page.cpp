// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/sentence_page.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QPaintEvent>
#include <QPainter>
#include <QResizeEvent>
#include <algorithm>

namespace badger::app
{

using sentences::Sentence;
using sentences::Token;

SentencePage::SentencePage(const Theme &theme, QWidget *parent)
    : QWidget(parent), m_theme(theme), m_field(new QLineEdit(this))
{
    setFocusPolicy(Qt::StrongFocus);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    setAccessibleName(tr("The program as sentences"));
    m_field->setObjectName("typeOver");
    m_field->hide();
    m_field->installEventFilter(this);
    connect(m_field, &QLineEdit::editingFinished, this, [this] { finishField(true); });
}

void SentencePage::show(const rules::Program &program, const std::vector<Finding> &findings,
                        const QString &lit)
{
    const auto at = m_current >= 0 && m_current < static_cast<int>(m_layout.tokens.size())
                        ? tokenOf(m_layout.tokens[static_cast<size_t>(m_current)]).target
                        : std::string();
    const bool sameAround = m_findings == findings && m_lit == lit && m_mends.empty();
    const auto before = m_layout;
    m_program = program;
    m_sentences = sentences::sentences(program);
    m_findings = findings;
    m_lit = lit;
    m_mends.clear();
    place();
    if (sameAround)
        updateChanged(before);
    else
        update();
    m_current = -1;
    for (size_t i = 0; i < m_layout.tokens.size() && !at.empty(); ++i)
        if (tokenOf(m_layout.tokens[i]).target == at && isChoice(i) && m_current < 0)
            m_current = static_cast<int>(i);
}

void SentencePage::offer(std::map<int, std::vector<regions::Mend>> mends)
{
    if (mends.empty() && m_mends.empty())
        return;
    m_mends = std::move(mends);
    place();
    update();
}

/// Text is measured once for what is shown: Qt asks for the height again and again.
void SentencePage::place()
{
    m_layout = layOut(width());
    m_heights.clear();
    m_heights[width()] = qRound(m_layout.height);
    if (minimumHeight() == qRound(m_layout.height))
        return; // no layout above has anything to do
    setMinimumHeight(qRound(m_layout.height));
    updateGeometry();
}

/// Paints only the lines in which a word is another, as a number that is dragged.
void SentencePage::updateChanged(const Layout &before)
{
    if (before.height != m_layout.height || before.tokens.size() != m_layout.tokens.size())
        return update();
    for (size_t i = 0; i < m_layout.tokens.size(); ++i) {
        const auto &was = before.tokens[i];
        const auto &now = m_layout.tokens[i];
        if (was.words != now.words || was.area != now.area || was.sentence != now.sentence)
            update(QRectF(0, now.area.top(), width(), now.area.height())
                       .united(QRectF(0, was.area.top(), width(), was.area.height()))
                       .toAlignedRect()
                       .adjusted(0, -2, 0, 2));
    }
}

QRect SentencePage::areaOfMend(int finding, int way) const
{
    for (const auto &link : m_layout.links)
        if (link.finding == finding && link.way == way)
            return link.area.toRect();
    return {};
}

const Token &SentencePage::tokenOf(const Placed &placed) const
{
    return m_sentences[placed.sentence].tokens[placed.token];
}

QFont SentencePage::fontOf(const Sentence &sentence, const Token &token) const
{
    const bool heading = sentence.kind == Sentence::Kind::Heading;
    const bool bold = token.kind == Token::Kind::Value || token.kind == Token::Kind::Word ||
                      (heading && token.kind == Token::Kind::Name);
    return m_theme.text(Type::Body, bold);
}

/// Findings at a sentence: those of its state, rule or reading, and of the values in it where no
/// earlier sentence has them.
std::vector<int> SentencePage::findingsOf(const Sentence &sentence) const
{
    std::vector<int> all;
    for (size_t i = 0; i < m_findings.size(); ++i) {
        const auto target = m_findings[i].target();
        if (m_findings[i].severity == Severity::Advice || target.empty())
            continue;
        const auto holds = [&](const Sentence &s) {
            if (s.about == target ||
                (target.starts_with("policy:") && s.about == "reading:" + target.substr(7)))
                return true;
            return std::any_of(s.tokens.begin(), s.tokens.end(), [&](const Token &t) {
                return t.target == target && t.kind == Token::Kind::Value;
            });
        };
        const auto first = std::find_if(m_sentences.begin(), m_sentences.end(), holds);
        if (first != m_sentences.end() && &*first == &sentence)
            all.push_back(static_cast<int>(i));
    }
    return all;
}

/// A finding below its sentence, with the ways out that there are. Gives where the next line
/// begins.
qreal SentencePage::addFinding(Layout &all, size_t i, int f, QPointF corner, qreal width) const
{
    const qreal s = m_theme.scale();
    const qreal left = corner.x();
    qreal y = corner.y();
    const QFontMetricsF metrics(m_theme.text(Type::Small));
    const QRectF room(left, 0, width - left - 12 * s, 1e6);
    const auto &finding = m_findings[static_cast<size_t>(f)];
    const auto height =
        metrics.boundingRect(room, Qt::TextWordWrap, str(finding.what) + " " + str(finding.mend))
            .height() +
        6 * s;
    const auto ways = m_mends.find(f);
    qreal below = 0.0;
    if (ways != m_mends.end()) {
        qreal at = left + 2 * s;
        for (size_t k = 0; k < ways->second.size(); ++k) {
            const qreal w = metrics.horizontalAdvance(str(ways->second[k].words));
            if (at + w > width - 12 * s && at > left + 2 * s)
                break; // the first is the nearest
            all.links.push_back({QRectF(at, y + height - 3 * s, w, metrics.height()), f, int(k)});
            at += w + 18 * s;
            below = metrics.height() + 2 * s;
        }
    }
    all.lines.push_back({QRectF(left - 4 * s, y, width - left - 4 * s, height + below), i, f});
    y += height + below + 2 * s;
    return y;
}

SentencePage::Layout SentencePage::layOut(qreal width) const
{
    Layout all;
    const qreal s = m_theme.scale();
    const qreal row = QFontMetricsF(m_theme.text(Type::Body, true)).height() + 5 * s;
    const qreal space = QFontMetricsF(m_theme.text(Type::Body)).horizontalAdvance(' ');
    qreal y = 4 * s;
    for (size_t i = 0; i < m_sentences.size(); ++i) {
        const auto &sentence = m_sentences[i];
        const bool heading = sentence.kind == Sentence::Kind::Heading;
        const bool rule = sentence.kind == Sentence::Kind::Rule;
        if (heading && i > 0)
            y += 7 * s;
        const qreal left = rule ? 40 * s : 14 * s;
        const qreal top = y;
        qreal x = left;
        for (size_t k = 0; k < sentence.tokens.size(); ++k) {
            const auto &token = sentence.tokens[k];
            const QFontMetricsF metrics(fontOf(sentence, token));
            const auto whole = str(token.text);
            const auto parts = token.kind == Token::Kind::Text
                                   ? whole.split(' ', Qt::SkipEmptyParts)
                                   : QStringList{whole};
            for (const auto &words : parts) {
                const qreal w = metrics.horizontalAdvance(words);
                const bool glued =
                    words.startsWith('.') || words.startsWith(',') || words.startsWith(';');
                if (x > left && !glued)
                    x += space;
                if (x + w > width - 8 * s && x > left && !glued) {
                    x = left + 16 * s;
                    y += row;
                }
                all.tokens.push_back({QRectF(x, y, w, row), i, k, words});
                x += w;
            }
        }
        y += row;
        all.lines.push_back({QRectF(4 * s, top, width - 8 * s, y - top), i, -1});
        for (const int f : findingsOf(sentence)) {
            y = addFinding(all, i, f, QPointF(left, y), width);
        }
        addLinks(all, i, y, width);
    }
    all.height = y + 6 * s;
    return all;
}

/// Behind the last of the readings, of each list of rules, and of all.
void SentencePage::addLinks(Layout &layout, size_t sentence, qreal &y, qreal width) const
{
    const qreal s = m_theme.scale();
    const auto &at = m_sentences[sentence];
    const auto *next = sentence + 1 < m_sentences.size() ? &m_sentences[sentence + 1] : nullptr;
    const QFontMetricsF metrics(m_theme.text(Type::Small));
    std::vector<Add> row;
    const bool isReading = at.about.starts_with("reading:");
    if (isReading && !(next && next->about.starts_with("reading:")))
        row.push_back({{}, tr("+ a reading"), QStringLiteral("reading"), -1, {}});
    const bool endsList = at.kind != Sentence::Kind::Line &&
                          (next == nullptr || next->kind == Sentence::Kind::Heading);
    const auto can = [&](sentences::Rewrite what) {
        const auto possible = sentences::rewrites(m_program, at);
        return std::find(possible.begin(), possible.end(), what) != possible.end();
    };
    if (endsList && can(sentences::Rewrite::AddRule)) {
        const auto state = at.kind == Sentence::Kind::Rule ? at.state
                           : at.go >= 0 ? m_program.states[static_cast<size_t>(at.go)].name
                                        : std::string();
        row.push_back(
            {{}, tr("+ a rule"), "rule:" + str(state), int(sentence), sentences::Rewrite::AddRule});
    }
    if (next == nullptr) {
        int last = -1;
        for (size_t i = 0; i < m_sentences.size(); ++i)
            if (m_sentences[i].kind == Sentence::Kind::Heading && m_sentences[i].go >= 0)
                last = static_cast<int>(i);
        if (last >= 0)
            row.push_back(
                {{}, tr("+ a state"), QStringLiteral("state"), last, sentences::Rewrite::AddState});
    }
    qreal x = at.kind == Sentence::Kind::Line ? 14 * s : 40 * s;
    for (auto &add : row) {
        const qreal w = metrics.horizontalAdvance(add.words);
        if (x + w > width - 8 * s)
            break;
        add.area = QRectF(x, y, w, metrics.height() + 2 * s);
        x += w + 18 * s;
        layout.adds.push_back(add);
    }
    if (!row.empty())
        y += metrics.height() + 4 * s;
}

QRect SentencePage::areaOfAdd(const QString &what) const
{
    for (const auto &add : m_layout.adds)
        if (add.what == what)
            return add.area.toRect();
    return {};
}

int SentencePage::heightForWidth(int width) const
{
    const auto [known, isNew] = m_heights.try_emplace(width, 0);
    if (isNew)
        known->second = qRound(layOut(width).height);
    return known->second;
}

QSize SentencePage::sizeHint() const
{
    return {qRound(520 * m_theme.scale()), heightForWidth(qRound(520 * m_theme.scale()))};
}

void SentencePage::resizeEvent(QResizeEvent *event)
{
    if (event->size().width() == event->oldSize().width())
        return;
    m_layout = layOut(width());
    setMinimumHeight(qRound(m_layout.height));
}

QRect SentencePage::areaOf(const QString &target) const
{
    for (const auto &t : m_layout.tokens)
        if (tokenOf(t).target == target.toStdString() && tokenOf(t).kind != Token::Kind::Name)
            return t.area.toRect();
    for (const auto &t : m_layout.tokens)
        if (tokenOf(t).target == target.toStdString())
            return t.area.toRect();
    return {};
}

void SentencePage::paintLine(QPainter &p, const Line &line) const
{
    const auto &sentence = m_sentences[line.sentence];
    const qreal s = m_theme.scale();
    if (line.finding >= 0) {
        const auto &finding = m_findings[static_cast<size_t>(line.finding)];
        hatch(p, line.area, m_theme.color(Tone::Rule), 6);
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(finding.severity == Severity::Error ? Tone::Brick : Tone::Ink));
        p.fillRect(line.area.adjusted(2 * s, 1 * s, -2 * s, -1 * s), m_theme.color(Tone::Sheet));
        p.drawText(line.area.adjusted(6 * s, 2 * s, -6 * s, 0), Qt::TextWordWrap,
                   str(finding.what) + " " + str(finding.mend));
        return;
    }
    if (sentence.go >= 0) {
        const auto &state = m_program.states[static_cast<size_t>(sentence.go)];
        const QRectF bar(line.area.left(), line.area.top() + 2 * s, 5 * s,
                         line.area.height() - 4 * s);
        p.fillRect(sentence.kind == Sentence::Kind::Rule ? bar.translated(16 * s, 0) : bar,
                   m_theme.color(rules::actOf(state.motion)));
    }
    if (sentence.kind == Sentence::Kind::Rule) {
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QRectF(line.area.left() + 20 * s, line.area.top(), 14 * s,
                          QFontMetricsF(m_theme.text(Type::Body, true)).height() + 5 * s),
                   Qt::AlignRight | Qt::AlignVCenter, QString::number(sentence.number));
    }
    if (!m_lit.isEmpty() && sentence.about == m_lit.toStdString()) {
        p.setPen(QPen(m_theme.color(Tone::Ochre), m_theme.line()));
        p.setBrush(Qt::NoBrush);
        p.drawRect(line.area.adjusted(0, 0, -1, 0));
    }
}

void SentencePage::paintToken(QPainter &p, size_t index) const
{
    const auto &placed = m_layout.tokens[index];
    const auto &sentence = m_sentences[placed.sentence];
    const auto &token = tokenOf(placed);
    const bool choice = token.kind == Token::Kind::Value || token.kind == Token::Kind::Word;
    p.setFont(fontOf(sentence, token));
    p.setPen(m_theme.color(
        token.unset                                                                   ? Tone::Brick
        : choice                                                                      ? Tone::Ochre
        : token.kind == Token::Kind::Name && sentence.kind != Sentence::Kind::Heading ? Tone::Result
                                                                                      : Tone::Ink));
    p.drawText(placed.area, Qt::AlignLeft | Qt::AlignVCenter, placed.words);
    if (choice) {
        const qreal base = placed.area.bottom() - 3 * m_theme.scale();
        p.setPen(QPen(p.pen().color(), 1));
        p.drawLine(QPointF(placed.area.left(), base), QPointF(placed.area.right(), base));
    }
    if (hasFocus() && static_cast<int>(index) == m_current) {
        p.setPen(QPen(m_theme.color(Tone::Ochre), 1.5));
        p.setBrush(Qt::NoBrush);
        p.drawRect(placed.area.adjusted(-2, 1, 2, -1));
    }
}

void SentencePage::paintEvent(QPaintEvent *event)
{
    QPainter p(this);
    p.setRenderHint(QPainter::TextAntialiasing);
    for (const auto &line : m_layout.lines)
        if (line.area.intersects(event->rect()))
            paintLine(p, line);
    for (size_t i = 0; i < m_layout.tokens.size(); ++i)
        if (m_layout.tokens[i].area.intersects(event->rect()))
            paintToken(p, i);
    auto font = m_theme.text(Type::Small);
    font.setUnderline(true);
    p.setFont(font);
    p.setPen(m_theme.color(Tone::Result));
    for (const auto &add : m_layout.adds)
        p.drawText(add.area, Qt::AlignLeft | Qt::AlignVCenter, add.words);
    for (const auto &link : m_layout.links)
        p.drawText(link.area, Qt::AlignLeft | Qt::AlignVCenter,
                   str(m_mends.at(link.finding)[static_cast<size_t>(link.way)].words));
}

} // namespace badger::app
