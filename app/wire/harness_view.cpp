// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/harness_view.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/pins/planner.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPathStroker>
#include <utility>

namespace badger::app
{

namespace
{
constexpr qreal leastWireRow = 12.3; ///< lower, the letters of two labels of the small type touch
constexpr qreal mostRow = 28.0;      ///< higher, a wire is looked for rather than seen
} // namespace

HarnessView::HarnessView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Harness"));
}

QSize HarnessView::sizeHint() const
{
    return {qRound(700 * m_theme.scale()), qRound(m_layout.height + 8)};
}

void HarnessView::arrange()
{
    // Rows as high as the page allows, so that the picture fills it; never lower than a label.
    const qreal width = this->width() - 2 * sideMargin;
    const auto least = layOut(m_car, m_catalogue, width, leastWireRow * m_theme.scale());
    setMinimumHeight(qRound(least.height + 8));
    const qreal room = least.height > 0.0 ? (height() - 8) / least.height : 1.0;
    m_row = leastWireRow * m_theme.scale() * std::clamp(room, 1.0, mostRow / leastWireRow);
    m_layout = layOut(m_car, m_catalogue, width, m_row);
    update();
}

void HarnessView::show(const kit::Car &car, const parts::Catalogue &catalogue,
                       const std::vector<Finding> &findings)
{
    if (car.name != m_car.name)
        m_marked.clear();
    m_car = car;
    m_catalogue = catalogue;
    m_findings = findings;
    m_libraries = pins::librariesOf(nets::Nets({car, catalogue}));
    m_changes = {};
    m_words.clear();
    if (m_picked >= static_cast<int>(car.wires.size()))
        m_picked = -1;
    m_hovered = -1;
    arrange();
}

void HarnessView::showNothing(const QString &words)
{
    m_car = {};
    m_words = words;
    m_picked = m_hovered = -1;
    arrange();
}

void HarnessView::showChanges(HarnessChanges changes)
{
    m_changes = std::move(changes);
    update();
}

int HarnessView::numberOf(const kit::Wire &wire) const
{
    const auto a = str(wire.from);
    const auto b = str(wire.to);
    for (const auto &key : {a + '\n' + b, b + '\n' + a})
        if (const auto it = m_changes.numbers.find(key); it != m_changes.numbers.end())
            return it->second;
    return 0;
}

void HarnessView::paintGone(QPainter &p) const
{
    for (const auto &w : m_changes.gone) {
        const auto *a = m_layout.terminal(w.from);
        const auto *b = m_layout.terminal(w.to);
        if (a == nullptr || b == nullptr)
            continue;
        const auto path = wirePath(*a, *b);
        const qreal width = 2.4 * m_theme.scale();
        p.setBrush(Qt::NoBrush);
        for (const auto &[colour, broad] : {std::pair(m_theme.color(Tone::Ink), width + 1.6),
                                            std::pair(m_theme.wire(str(w.colour)), width)}) {
            QPen pen(colour, broad, Qt::CustomDashLine, Qt::FlatCap);
            constexpr qreal dash = 8; // the same lengths for both, whatever their breadth
            pen.setDashPattern({dash / broad, dash / broad});
            p.setPen(pen);
            p.drawPath(path);
        }
    }
}

void HarnessView::paintNumbers(QPainter &p) const
{
    p.setFont(m_theme.text(Type::Small, true));
    for (const auto &w : m_layout.wires) {
        const int number = numberOf(m_car.wires[w.index]);
        if (number == 0)
            continue;
        const qreal r = 9 * m_theme.scale();
        const auto at = w.path.pointAtPercent(0.5);
        p.setPen(QPen(m_theme.color(Tone::Ochre), 1.6));
        p.setBrush(m_theme.color(Tone::Sheet));
        p.drawEllipse(at, r, r);
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r), Qt::AlignCenter,
                   QString::number(number));
    }
}

namespace
{
constexpr qreal plainWidth = 860; ///< of the columns, where there is no window
constexpr qreal plainRow = 17.5;  ///< paper has room
} // namespace

QSizeF HarnessView::plainSize() const
{
    const auto plain = layOut(m_car, m_catalogue, plainWidth, plainRow);
    return {plainWidth + 2 * sideMargin, plain.height + 8};
}

QSizeF HarnessView::paintPlain(QPainter &p, QSizeF size)
{
    const auto whole = plainSize();
    const qreal scale = std::min(size.width() / whole.width(), size.height() / whole.height());
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.translate((size.width() - whole.width() * scale) / 2, 0);
    p.scale(scale, scale);
    p.translate(sideMargin, 2);
    const auto onScreen = std::exchange(m_layout, layOut(m_car, m_catalogue, plainWidth, plainRow));
    for (const auto &w : m_layout.wires)
        paintWire(p, w, false, false);
    for (const auto &part : m_layout.parts)
        paintPart(p, part);
    m_layout = onScreen;
    p.restore();
    return whole * scale;
}

void HarnessView::pickWire(int index)
{
    m_picked = index;
    if (index >= 0 && index < static_cast<int>(m_car.wires.size())) {
        const auto &w = m_car.wires[static_cast<size_t>(index)];
        setAccessibleDescription(
            tr("%1 wire from %2 to %3").arg(str(w.colour), str(w.from), str(w.to)));
    }
    update();
}

void HarnessView::markTerminal(const std::string &name)
{
    m_marked = name;
    update();
}

void HarnessView::resizeEvent(QResizeEvent *)
{
    arrange();
}

std::optional<Severity> HarnessView::worstAt(const std::string &terminal) const
{
    std::optional<Severity> worst;
    for (const auto &f : m_findings)
        if (f.places.front() == at::terminal(terminal) && (!worst || f.severity < *worst))
            worst = f.severity;
    return worst;
}

void HarnessView::paintWire(QPainter &p, const HarnessWire &wire, bool lit, bool faded) const
{
    const auto &w = m_car.wires[wire.index];
    const qreal width = (lit ? 4.6 : 3.0) * m_theme.scale();
    auto colour = m_theme.wire(str(w.colour));
    auto outline = m_theme.color(Tone::Ink);
    if (faded) {
        colour.setAlphaF(0.22f);
        outline.setAlphaF(0.10f);
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(outline, width + 1.6, Qt::SolidLine, Qt::RoundCap));
    p.drawPath(wire.path);
    p.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap));
    p.drawPath(wire.path);
}

void HarnessView::paintTerminal(QPainter &p, const HarnessPart &part,
                                const HarnessTerminal &t) const
{
    const qreal s = m_theme.scale();
    const auto split = kit::splitTerminal(t.name);
    const auto *info = kit::Assembly(m_car, m_catalogue).terminal(t.name);
    bool wired = false;
    bool onPicked = false;
    for (size_t i = 0; i < m_car.wires.size(); ++i) {
        const auto &w = m_car.wires[i];
        const bool here = w.from == t.name || w.to == t.name;
        wired |= here;
        onPicked |= here && static_cast<int>(i) == m_picked;
    }
    const auto *fitted = m_car.instance(part.id);
    const bool jumpered = nets::isJumpered(*fitted, split.terminal);
    QString label = str(split.terminal);
    const auto *partOf = m_catalogue.find(fitted->partId);
    if (info->pwm)
        label += pins::pwmTakenBy(*partOf, *info, m_libraries).empty() ? QStringLiteral(" ~")
                                                                       : tr(" ~ gone");
    if (jumpered)
        label += tr(" jumper");
    p.setFont(m_theme.text(Type::Small, onPicked));
    p.setPen(m_theme.color(wired || jumpered ? Tone::Ink : Tone::Ink2));
    const qreal h = 18 * s;
    const QRectF box(part.area.left() + 9 * s, t.at.y() - h / 2, part.area.width() - 18 * s, h);
    p.drawText(box, (t.onRight ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, label);
    if (m_meter && wired)
        paintVolts(p, t, box, p.fontMetrics().horizontalAdvance(label));
    p.setPen(QPen(m_theme.color(Tone::Ink), 1.2));
    p.setBrush(wired ? m_theme.color(Tone::Ink) : m_theme.color(Tone::Sheet));
    const qreal r = 3.2 * s;
    p.drawEllipse(t.at, r, r);
    if (t.name == m_marked) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2.2));
        p.drawRoundedRect(box.adjusted(-6 * s, 0, 6 * s, 0), 3, 3);
    }
    if (const auto worst = worstAt(t.name)) {
        const qreal m = 12 * s;
        const QRectF box2(t.at.x() + (t.onRight ? 6 : -18) * s, t.at.y() - m / 2, m, m);
        p.setPen(Qt::NoPen);
        p.setBrush(m_theme.color(Tone::Paper));
        p.drawEllipse(box2.adjusted(-2, -2, 2, 2));
        paintMark(p, box2, *worst, m_theme);
    }
}

void HarnessView::paintPart(QPainter &p, const HarnessPart &part) const
{
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRoundedRect(part.area, 5, 5);
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink));
    const QRectF title(part.area.left() + 8, part.area.top(), part.area.width() - 16,
                       22 * m_theme.scale());
    p.drawText(title, Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().horizontalAdvance(part.title) <= title.width() &&
                       !(m_meter && m_meter->parts.count(part.id))
                   ? part.title
                   : p.fontMetrics().elidedText(str(part.id), Qt::ElideRight, int(title.width())));
    for (const auto &t : part.terminals)
        paintTerminal(p, part, t);
    if (m_meter)
        paintDoes(p, part);
}

void HarnessView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_words.isEmpty()) {
        p.setPen(m_theme.color(Tone::Ink2));
        p.setFont(m_theme.text(Type::Lead));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, m_words);
        return;
    }
    p.translate(sideMargin, 2);
    const int lit = m_hovered >= 0 ? m_hovered : m_picked;
    paintGone(p);
    for (const auto &w : m_layout.wires) {
        const bool changed = numberOf(m_car.wires[w.index]) > 0;
        if (static_cast<int>(w.index) != lit)
            paintWire(p, w, changed, lit >= 0 || (!m_changes.empty() && !changed));
    }
    for (const auto &part : m_layout.parts)
        paintPart(p, part);
    for (const auto &w : m_layout.wires)
        if (static_cast<int>(w.index) == lit)
            paintWire(p, w, true, false);
    paintNumbers(p);
    if (m_drag.wire >= 0 && m_drag.moved) {
        const auto &w = m_car.wires[static_cast<size_t>(m_drag.wire)];
        const auto *kept = m_layout.terminal(m_drag.fromEnd ? w.to : w.from);
        p.setPen(QPen(m_theme.wire(str(w.colour)), 4, Qt::DashLine));
        p.drawLine(kept->at, m_drag.at);
    }
    p.translate(-sideMargin, -2);
    paintFocus(p, *this, m_theme);
}

} // namespace badger::app
