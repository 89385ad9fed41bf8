// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/compare_page.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/edit/kit_edits.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QSpinBox>
#include <cmath>

namespace badger::app
{

namespace
{

constexpr qreal rowHeight = 23;
constexpr qreal headHeight = 30;
constexpr qreal findingHeight = 38;

} // namespace

CompareView::CompareView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setAccessibleName(tr("Two builds side by side"));
}

QSize CompareView::sizeHint() const
{
    const qreal s = m_theme.scale();
    const auto findings = m_comparison.onlyA.size() + m_comparison.onlyB.size();
    return {qRound(560 * s), qRound((headHeight + rowHeight * qreal(m_comparison.rows.size()) +
                                     findingHeight * qreal(findings) + 90) *
                                    s)};
}

void CompareView::show(judge::Comparison comparison, const QString &a, const QString &b)
{
    m_comparison = std::move(comparison);
    m_a = a;
    m_b = b;
    QStringList words;
    for (const auto &r : m_comparison.rows)
        if (r.differs)
            words << tr("%1: %2 against %3").arg(str(r.name), str(r.a), str(r.b));
    setAccessibleDescription(words.join("; "));
    updateGeometry();
    update();
}

void CompareView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const qreal s = m_theme.scale();
    const qreal nameWidth = 210 * s;
    const qreal column = (width() - nameWidth) / 2;
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink));
    const auto head = [&](const QString &text, qreal x) {
        p.drawText(QRectF(x, 0, column - 8, headHeight * s), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(text, Qt::ElideRight, int(column - 10)));
    };
    head(m_a, nameWidth);
    head(m_b, nameWidth + column);
    qreal y = headHeight * s;
    for (const auto &r : m_comparison.rows) {
        const QRectF row(0, y, width(), rowHeight * s);
        if (r.differs)
            p.fillRect(row, m_theme.color(Tone::Sheet));
        p.setPen(QPen(m_theme.color(Tone::Rule), 1));
        p.drawLine(row.bottomLeft(), row.bottomRight());
        p.setFont(m_theme.text(Type::Small, r.differs));
        p.setPen(m_theme.color(r.differs ? Tone::Ink : Tone::Ink2));
        p.drawText(QRectF(8 * s, y, nameWidth - 12 * s, rowHeight * s), Qt::AlignVCenter,
                   str(r.name));
        const double most =
            std::max(std::abs(r.valueA.value_or(0.0)), std::abs(r.valueB.value_or(0.0)));
        const auto value = [&](const Say &text, std::optional<double> number, qreal x, bool better,
                               bool worse) {
            if (r.differs && number && most > 0.0) { // a pair of bars on one scale
                const qreal from = x + 118 * s;
                const qreal full = column - 134 * s;
                p.fillRect(QRectF(from, y + 7 * s, full * std::abs(*number) / most,
                                  rowHeight * s - 14 * s),
                           m_theme.color(better ? Tone::Result : Tone::Ink2));
            }
            p.setFont(m_theme.figures(r.differs ? Type::Body : Type::Small));
            p.setPen(m_theme.color(!r.differs ? Tone::Ink2 : better ? Tone::Result : Tone::Ink));
            const QRectF box(x + 18 * s, y, column - 24 * s, rowHeight * s);
            p.drawText(box, Qt::AlignVCenter, str(text));
            if (!better && !worse)
                return;
            // Shape before colour: the better one is ticked, the worse one ringed.
            const QRectF mark(x, y + 6 * s, 11 * s, 11 * s);
            paintMark(p, mark, better ? judge::GateState::Passed : judge::GateState::Open, m_theme);
        };
        value(r.a, r.valueA, nameWidth, r.better<0, r.better> 0);
        value(r.b, r.valueB, nameWidth + column, r.better > 0, r.better < 0);
        y += rowHeight * s;
    }
    y += 14 * s;
    const qreal half = width() / 2.0;
    paintFindings(p, 0, y, half - 12, tr("only with %1").arg(m_a), m_comparison.onlyA);
    paintFindings(p, half, y, half - 12, tr("only with %1").arg(m_b), m_comparison.onlyB);
}

qreal CompareView::paintFindings(QPainter &p, qreal x, qreal y, qreal w, const QString &heading,
                                 const std::vector<Finding> &findings) const
{
    const qreal s = m_theme.scale();
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(x + 8 * s, y, w, 20 * s), Qt::AlignVCenter,
               p.fontMetrics().elidedText(heading, Qt::ElideRight, int(w)));
    y += 22 * s;
    if (findings.empty()) {
        p.setFont(m_theme.text(Type::Small));
        p.drawText(QRectF(x + 8 * s, y, w, 20 * s), Qt::AlignVCenter, tr("no finding"));
    }
    p.setFont(m_theme.text(Type::Small));
    for (const auto &f : findings) {
        paintMark(p, QRectF(x + 8 * s, y + 3 * s, 11 * s, 11 * s), f.severity, m_theme);
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(QRectF(x + 26 * s, y, w - 26 * s, findingHeight * s),
                   Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, str(f.what));
        y += findingHeight * s;
    }
    return y;
}

ComparePage::ComparePage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(2));
    auto *row = new QHBoxLayout;
    m_part = new QComboBox;
    m_part->setObjectName("comparePart");
    m_other = new QComboBox;
    m_other->setObjectName("compareOther");
    m_other->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_other->setMinimumContentsLength(22);
    m_cells = new QSpinBox;
    m_cells->setObjectName("compareCells");
    m_cells->setRange(1, 40);
    m_cells->setKeyboardTracking(false);
    m_cellsLabel = new QLabel(tr("× cells in series"));
    m_take = new QPushButton(tr("&Take it"));
    m_take->setObjectName("compareTake");
    row->addWidget(new QLabel(tr("Instead of")));
    row->addWidget(m_part);
    row->addWidget(new QLabel(tr("take")));
    row->addWidget(m_cells);
    row->addWidget(m_cellsLabel);
    row->addWidget(m_other);
    row->addStretch(1);
    row->addWidget(m_take);
    layout->addLayout(row);
    m_view = new CompareView(theme);
    m_view->setObjectName("compareView");
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(m_view);
    layout->addWidget(scroll, 1);
    connect(m_part, &QComboBox::activated, this, [this] {
        fillAlternatives();
        compare();
    });
    connect(m_other, &QComboBox::activated, this, &ComparePage::compare);
    connect(m_cells, &QSpinBox::valueChanged, this, &ComparePage::compare);
    connect(m_take, &QPushButton::clicked, this, [this] {
        emit taken(m_part->currentData().toString(), m_other->currentData().toString(),
                   m_cells->isVisibleTo(this) ? m_cells->value() : 0);
    });
}

void ComparePage::fillParts()
{
    const auto before = m_part->currentData().toString();
    m_part->clear();
    const auto *car = m_session.car();
    for (const auto &i : car->parts) {
        const auto *part = m_session.catalogue().find(i.partId);
        const auto same = std::count_if(
            m_session.catalogue().parts().begin(), m_session.catalogue().parts().end(),
            [&](const parts::Part &p) { return part && p.kind == part->kind; });
        if (same > 1 || (part && part->kind == parts::Kind::Cell))
            m_part->addItem(tr("%1: %2").arg(str(kit::labelOf(i)), str(part->name)), str(i.id));
    }
    const int index = m_part->findData(before);
    // The pack is what people weigh first.
    const int pack = m_part->findData("pack");
    m_part->setCurrentIndex(index >= 0 ? index : std::max(0, pack));
}

void ComparePage::fillAlternatives()
{
    const auto *car = m_session.car();
    const auto *fitted = car->instance(m_part->currentData().toString().toStdString());
    const auto *part = fitted ? m_session.catalogue().find(fitted->partId) : nullptr;
    const auto before = m_other->currentData().toString();
    m_other->clear();
    if (part == nullptr)
        return;
    QStringList seen;
    const bool cells = part->kind == parts::Kind::Cell;
    for (const auto &p : m_session.catalogue().parts()) {
        if (p.kind != part->kind || (!cells && p.id == part->id) || seen.contains(str(p.id)))
            continue;
        seen << str(p.id);
        m_other->addItem(str(p.name), str(p.id));
    }
    int index = m_other->findData(before);
    if (index < 0 && cells) // another chemistry first
        index = m_other->findData(str(part->id)) == 0 ? 1 : 0;
    m_other->setCurrentIndex(std::max(0, index));
    const QSignalBlocker quiet(m_cells);
    m_cells->setVisible(cells);
    m_cellsLabel->setVisible(cells);
    if (cells)
        m_cells->setValue(fitted->cellsInSeries);
}

void ComparePage::compare()
{
    const auto *car = m_session.car();
    const auto id = m_part->currentData().toString().toStdString();
    const auto *fitted = car ? car->instance(id) : nullptr;
    const auto *part = fitted ? m_session.catalogue().find(fitted->partId) : nullptr;
    if (part == nullptr || m_other->count() == 0)
        return;
    auto other = *car;
    edit::exchangePart(other, m_session.catalogue(), id,
                       m_other->currentData().toString().toStdString());
    const bool cells = part->kind == parts::Kind::Cell;
    auto nameA = str(part->name);
    auto nameB = m_other->currentText();
    if (cells) {
        for (auto &i : other.parts)
            if (i.id == id)
                i.cellsInSeries = m_cells->value();
        nameA = tr("%1 × %2").arg(fitted->cellsInSeries).arg(nameA);
        nameB = tr("%1 × %2").arg(m_cells->value()).arg(nameB);
    }
    const auto *stop = m_session.stopRule().value;
    m_take->setEnabled(!(other == *car));
    m_view->show(
        judge::compare(*car, {other, m_session.catalogue()}, stop ? stop->si : std::nullopt), nameA,
        nameB);
}

void ComparePage::refresh()
{
    setEnabled(m_session.car() != nullptr);
    if (m_session.car() == nullptr)
        return;
    const int cells = m_cells->value();
    const auto part = m_part->currentData();
    fillParts();
    fillAlternatives();
    if (m_part->currentData() == part) {
        const QSignalBlocker quiet(m_cells);
        m_cells->setValue(cells);
    }
    compare();
}

void ComparePage::choose(const QString &instance)
{
    fillParts();
    if (const int i = m_part->findData(instance); i >= 0)
        m_part->setCurrentIndex(i);
    fillAlternatives();
    compare();
    m_other->setFocus();
}

} // namespace badger::app
