// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "app/wire/bench_page.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>

namespace badger::app
{

using firstpower::Verdict;
using Act = revisions::HandStep::Act;

BenchView::BenchView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("The wire that is next"));
}

QSize BenchView::sizeHint() const
{
    return {qRound(700 * m_theme.scale()), qRound(380 * m_theme.scale())};
}

int BenchView::big() const
{
    return qRound(std::min(height() * 0.12, width() * 0.055));
}

void BenchView::show(const kit::Car &car, const parts::Catalogue &catalogue,
                     const std::vector<BenchItem> &items, int at)
{
    m_car = car;
    m_catalogue = catalogue;
    m_items = items;
    m_at = at;
    m_words.clear();
    if (at >= 0) {
        const auto &item = items[size_t(at)];
        setAccessibleDescription(item.hand ? str(item.hand->text) : str(item.step->title));
    }
    update();
}

void BenchView::showNothing(const QString &words)
{
    m_items.clear();
    m_at = -1;
    m_words = words;
    update();
}

void BenchView::keyPressEvent(QKeyEvent *event)
{
    switch (event->key()) {
    case Qt::Key_Space:
        return emit done();
    case Qt::Key_Backspace:
        return emit back();
    case Qt::Key_Right:
        return emit moved(1);
    case Qt::Key_Left:
        return emit moved(-1);
    default:
        QWidget::keyPressEvent(event);
    }
}

void BenchView::paintProgress(QPainter &p, const QRectF &box) const
{
    const auto n = int(m_items.size());
    if (n == 0)
        return;
    const qreal step = std::min(box.width() / n, 16.0 * m_theme.scale());
    for (int i = 0; i < n; ++i) {
        const auto &item = m_items[size_t(i)];
        QRectF cell(box.left() + step * i, box.top(), step * 0.72, box.height() * 0.6);
        if (item.step) // the walk's steps are round
            cell.setHeight(cell.width());
        const auto fill = item.state == Verdict::Right   ? m_theme.color(Tone::Result)
                          : item.state == Verdict::Wrong ? m_theme.color(Tone::Brick)
                                                         : m_theme.color(Tone::Sheet);
        p.setPen(QPen(m_theme.color(i == m_at ? Tone::Ochre : Tone::Ink2), i == m_at ? 2.4 : 1));
        p.setBrush(fill);
        if (item.step)
            p.drawEllipse(cell);
        else
            p.drawRect(cell);
        if (item.state == Verdict::Wrong) {
            p.setPen(QPen(m_theme.color(Tone::Sheet), 1.6));
            p.drawLine(cell.topLeft(), cell.bottomRight());
        }
    }
}

/// A part as the strip of its terminals around the one that is meant.
void BenchView::paintStrip(QPainter &p, const std::string &terminal, const QRectF &box,
                           bool onRight) const
{
    const auto split = kit::splitTerminal(terminal);
    const auto *fitted = m_car.instance(split.instance);
    const auto *part = fitted ? m_catalogue.find(fitted->partId) : nullptr;
    if (part == nullptr)
        return;
    int index = 0;
    for (size_t i = 0; i < part->terminals.size(); ++i)
        if (part->terminals[i].name == split.terminal)
            index = int(i);
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line() * 1.4));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRoundedRect(box, 8, 8);
    auto font = m_theme.text(Type::Lead, true);
    font.setPixelSize(qRound(big() * 0.55));
    p.setFont(font);
    p.setPen(m_theme.color(Tone::Ink));
    const auto label =
        kit::labelOf(*fitted) == part->name ? str(part->name) : str(kit::labelOf(*fitted));
    const qreal head = big() * 0.95;
    p.drawText(QRectF(box.left() + 14, box.top(), box.width() - 28, head), Qt::AlignVCenter,
               p.fontMetrics().elidedText(label, Qt::ElideRight, int(box.width() - 28)));
    const qreal row = (box.height() - head) / 5.0;
    for (int d = -2; d <= 2; ++d) {
        const int i = index + d;
        if (i < 0 || i >= int(part->terminals.size()))
            continue;
        const bool meant = d == 0;
        const qreal y = box.top() + head + row * (d + 2.5);
        auto size = m_theme.text(Type::Title, meant);
        size.setPixelSize(qRound(meant ? big() : big() * 0.5));
        p.setFont(size);
        p.setPen(m_theme.color(meant ? Tone::Ink : Tone::Ink2));
        const QRectF words(box.left() + 22, y - row / 2, box.width() - 44, row);
        p.drawText(words, (onRight ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter,
                   str(part->terminals[size_t(i)].name));
        const QPointF hole(onRight ? box.right() : box.left(), y);
        const qreal r = (meant ? 9 : 5) * m_theme.scale();
        p.setPen(QPen(m_theme.color(meant ? Tone::Ochre : Tone::Ink2), meant ? 3 : 1.2));
        p.setBrush(m_theme.color(Tone::Sheet));
        p.drawEllipse(hole, r, r);
    }
}

void BenchView::paintHand(QPainter &p, const QRectF &box) const
{
    const auto &step = *m_items[size_t(m_at)].hand;
    const qreal w = box.width() * 0.34;
    const QRectF left(box.left(), box.top(), w, box.height());
    if (step.act == Act::JumperOn) {
        paintStrip(p, step.at, left, true);
        auto font = m_theme.text(Type::Title, true);
        font.setPixelSize(big());
        p.setFont(font);
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(box.adjusted(w + 30, 0, 0, 0), Qt::AlignVCenter | Qt::TextWordWrap,
                   str(step.text));
        return;
    }
    const QRectF right(box.right() - w, box.top(), w, box.height());
    paintStrip(p, step.wire.from, left, true);
    paintStrip(p, step.wire.to, right, false);
    const qreal y = box.top() + big() * 0.95 + (box.height() - big() * 0.95) / 2.0;
    const auto colour = m_theme.wire(str(step.wire.colour));
    QPainterPath wire(QPointF(left.right(), y));
    wire.cubicTo(QPointF(left.right() + 60, y - 26), QPointF(right.left() - 60, y + 26),
                 QPointF(right.left(), y));
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(m_theme.color(Tone::Ink), 15 * m_theme.scale(), Qt::SolidLine, Qt::RoundCap));
    p.drawPath(wire);
    p.setPen(QPen(colour, 12 * m_theme.scale(), Qt::SolidLine, Qt::RoundCap));
    p.drawPath(wire);
    auto font = m_theme.text(Type::Title, true);
    font.setPixelSize(qRound(big() * 0.8));
    p.setFont(font);
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(
        QRectF(left.right() + 10, y - big() * 2.2, right.left() - left.right() - 20, big() * 1.4),
        Qt::AlignCenter, str(step.wire.colour));
}

void BenchView::paintStep(QPainter &p, const QRectF &box) const
{
    const auto &step = *m_items[size_t(m_at)].step;
    const auto state = m_items[size_t(m_at)].state;
    auto font = m_theme.text(Type::Title, true);
    font.setPixelSize(qRound(big() * 0.85));
    p.setFont(font);
    p.setPen(m_theme.color(Tone::Ink));
    QRectF at;
    p.drawText(box, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, str(step.title), &at);
    font = m_theme.text(Type::Lead);
    font.setPixelSize(qRound(big() * 0.5));
    p.setFont(font);
    p.setPen(m_theme.color(Tone::Ink2));
    const QRectF below(box.left(), at.bottom() + big() * 0.4, box.width(), box.bottom());
    p.drawText(below, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, str(step.text), &at);
    qreal y = at.bottom() + big() * 0.5;
    if (!step.expected.empty()) {
        font = m_theme.text(Type::Title, true);
        font.setPixelSize(qRound(big() * 0.8));
        p.setFont(font);
        p.setPen(m_theme.color(Tone::Result));
        p.drawText(QRectF(box.left(), y, box.width(), big() * 1.2), Qt::AlignLeft,
                   tr("expected: %1").arg(str(step.expected)));
        y += big() * 1.5;
    }
    if (state == Verdict::Open)
        return;
    const bool right = state == Verdict::Right;
    const qreal m = big() * 0.7;
    paintMark(p, QRectF(box.left(), y, m, m),
              right ? judge::GateState::Passed : judge::GateState::Blocked, m_theme);
    font = m_theme.text(Type::Lead, !right);
    font.setPixelSize(qRound(big() * 0.5));
    p.setFont(font);
    p.setPen(m_theme.color(right ? Tone::Result : Tone::Brick));
    p.drawText(QRectF(box.left() + m * 1.5, y - m * 0.1, box.width() - m * 1.5, box.bottom() - y),
               Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
               right ? tr("as it should be") : str(step.fails));
}

void BenchView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (m_at < 0) {
        p.setPen(m_theme.color(Tone::Ink2));
        p.setFont(m_theme.text(Type::Lead));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, m_words);
        return;
    }
    const qreal s = m_theme.scale();
    const QRectF all = QRectF(rect()).adjusted(4 * s, 4 * s, -4 * s, -4 * s);
    paintProgress(p, QRectF(all.left(), all.top(), all.width(), 20 * s));
    const QRectF heart = all.adjusted(0, 34 * s, 0, -8 * s);
    if (m_items[size_t(m_at)].hand)
        paintHand(p, heart);
    else
        paintStep(p, heart);
    if (m_items[size_t(m_at)].hand && m_items[size_t(m_at)].state == Verdict::Right) {
        const qreal m = big() * 0.9;
        const QPointF middle(heart.center().x(), heart.bottom() - m);
        paintMark(p, QRectF(middle.x() - m / 2, middle.y() - m / 2, m, m), judge::GateState::Passed,
                  m_theme);
    }
    paintFocus(p, *this, m_theme);
}

} // namespace badger::app
