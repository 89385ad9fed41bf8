// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/harness_layout.h"

#include "app/widgets/text.h"
#include "core/harness/arrange.h"

#include <algorithm>
#include <map>
#include <optional>

namespace badger::app
{

namespace
{

using parts::Kind;

// In rows of a terminal: as little as keeps the parts apart, since a full car just fits a page.
constexpr qreal titleRows = 1.3;
constexpr qreal gapRows = 0.25;

class Layouter
{
public:
    Layouter(const kit::Car &car, const parts::Catalogue &catalogue, qreal width, qreal row)
        : m_car(car), m_catalogue(catalogue), m_width(width), m_row(row)
    {
    }

    HarnessLayout make()
    {
        const auto order = harness::arrange({m_car, m_catalogue});
        Column hub{0.0, m_width * 0.16};
        for (const auto &p : order.hub)
            place(p, hub, hub.bottom);
        Column modules{m_width * 0.43, m_width * 0.24};
        for (const auto &p : order.modules)
            place(p, modules, modules.bottom);
        // A part that only modules feed stands as high as what feeds it.
        Column far{m_width * 0.77, m_width * 0.23};
        for (const auto &p : order.far)
            place(p, far, std::max(far.bottom, pullOf(p).value_or(far.bottom) - m_row * 2.3));
        routeAll();
        qreal bottom = 0.0;
        for (const auto &p : m_layout.parts)
            bottom = std::max(bottom, p.area.bottom());
        m_layout.height = bottom + 4;
        m_layout.crossings = order.crossings;
        return std::move(m_layout);
    }

private:
    const parts::Part *partOf(const kit::Instance &i) const { return m_catalogue.find(i.partId); }

    QString title(const kit::Instance &i) const
    {
        const auto *part = partOf(i);
        const auto what = str(part->name);
        if (part->kind == Kind::Cell)
            return QStringLiteral("%1: %2 × %3").arg(str(i.id)).arg(i.cellsInSeries).arg(what);
        const auto name = str(i.id);
        return name == what ? name : name + ": " + what;
    }

    struct Column {
        qreal left;
        qreal width;
        qreal bottom = 0.0;
    };

    /// Mean height of what a part is wired to among the parts already placed.
    std::optional<qreal> pullOf(const harness::Placed &p) const
    {
        qreal sum = 0.0;
        int n = 0;
        for (const auto &w : m_car.wires)
            for (const auto &[mine, other] : {std::pair(&w.from, &w.to), std::pair(&w.to, &w.from)})
                if (const auto *t = kit::splitTerminal(*mine).instance == p.id
                                        ? m_layout.terminal(*other)
                                        : nullptr) {
                    sum += t->at.y();
                    ++n;
                }
        return n > 0 ? std::optional(sum / n) : std::nullopt;
    }

    void place(const harness::Placed &p, Column &column, qreal top)
    {
        HarnessPart part{p.id, title(*m_car.instance(p.id)), {}, {}};
        const auto rows = qreal(std::max(p.left.size(), p.right.size()));
        part.area = QRectF(column.left, top, column.width, m_row * (rows + titleRows));
        const auto put = [&](const std::vector<std::string> &names, bool onRight) {
            qreal y = part.area.top() + m_row * titleRows;
            for (const auto &name : names) {
                part.terminals.push_back(
                    {name,
                     {onRight ? part.area.right() : part.area.left(), y + m_row / 2},
                     onRight});
                y += m_row;
            }
        };
        put(p.left, false);
        put(p.right, true);
        column.bottom = part.area.bottom() + m_row * gapRows;
        m_layout.parts.push_back(std::move(part));
    }

    struct Ends {
        size_t wire;
        const HarnessTerminal *a;
        const HarnessTerminal *b;
    };

    void routeAll()
    {
        std::vector<Ends> within; // one column: they run up or down beside it
        for (size_t i = 0; i < m_car.wires.size(); ++i) {
            Ends e{i, m_layout.terminal(m_car.wires[i].from), m_layout.terminal(m_car.wires[i].to)};
            if (e.a == nullptr || e.b == nullptr)
                continue;
            if (std::abs(e.a->at.x() - e.b->at.x()) < 1.0)
                within.push_back(e);
            else
                m_layout.wires.push_back({i, wirePath(*e.a, *e.b)});
        }
        routeLanes(std::move(within));
        std::sort(m_layout.wires.begin(), m_layout.wires.end(),
                  [](const HarnessWire &x, const HarnessWire &y) { return x.index < y.index; });
    }

    /// Each wire gets a lane beside its column, the shortest the nearest; lanes are shared by wires
    /// that do not run side by side, so that a bundle can be followed wire by wire.
    void routeLanes(std::vector<Ends> within)
    {
        const auto length = [](const Ends &e) { return std::abs(e.a->at.y() - e.b->at.y()); };
        std::stable_sort(within.begin(), within.end(),
                         [&](const Ends &x, const Ends &y) { return length(x) < length(y); });
        struct Span {
            qreal top;
            qreal bottom;
        };
        std::map<std::pair<qreal, bool>, std::vector<std::vector<Span>>> lanes;
        for (const auto &e : within) {
            const Span span{std::min(e.a->at.y(), e.b->at.y()), std::max(e.a->at.y(), e.b->at.y())};
            auto &beside = lanes[{e.a->at.x(), e.a->onRight}];
            size_t lane = 0;
            const auto taken = [&](const Span &other) {
                return span.top < other.bottom + m_row * 0.3 &&
                       other.top < span.bottom + m_row * 0.3;
            };
            while (lane < beside.size() &&
                   std::any_of(beside[lane].begin(), beside[lane].end(), taken))
                ++lane;
            if (lane == beside.size())
                beside.emplace_back();
            beside[lane].push_back(span);
            m_layout.wires.push_back({e.wire, alongside(*e.a, *e.b, lane)});
        }
    }

    QPainterPath alongside(const HarnessTerminal &from, const HarnessTerminal &to,
                           size_t lane) const
    {
        const auto &a = from.at.y() < to.at.y() ? from.at : to.at;
        const auto &b = from.at.y() < to.at.y() ? to.at : from.at;
        const qreal out = (m_row * 0.7 + qreal(lane) * m_row * 0.36) * (from.onRight ? 1 : -1);
        const qreal bend = std::min(m_row * 0.7, (b.y() - a.y()) / 2);
        QPainterPath path(a);
        path.cubicTo(a + QPointF(out, 0), a + QPointF(out, 0), a + QPointF(out, bend));
        path.lineTo(b + QPointF(out, -bend));
        path.cubicTo(b + QPointF(out, 0), b + QPointF(out, 0), b);
        return path;
    }

    const kit::Car &m_car;
    const parts::Catalogue &m_catalogue;
    qreal m_width;
    qreal m_row;
    HarnessLayout m_layout;
};

} // namespace

const HarnessTerminal *HarnessLayout::terminal(const std::string &name) const
{
    for (const auto &part : parts)
        for (const auto &t : part.terminals)
            if (t.name == name)
                return &t;
    return nullptr;
}

QPainterPath wirePath(const HarnessTerminal &from, const HarnessTerminal &to)
{
    const auto &a = from.at.x() < to.at.x() ? from : to;
    const auto &b = from.at.x() < to.at.x() ? to : from;
    QPainterPath path(a.at);
    const qreal reach = std::max<qreal>(24.0, (b.at.x() - a.at.x()) * 0.42);
    path.cubicTo(a.at + QPointF(a.onRight ? reach : -reach, 0),
                 b.at + QPointF(b.onRight ? reach : -reach, 0), b.at);
    return path;
}

HarnessLayout layOut(const kit::Car &car, const parts::Catalogue &catalogue, qreal width, qreal row)
{
    return Layouter(car, catalogue, width, row).make();
}

} // namespace badger::app
