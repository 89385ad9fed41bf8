// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/harness_layout.h"

#include <algorithm>
#include <set>

namespace badger::app
{

namespace
{

using parts::Kind;

/// Terminals that a wire of the car ends at, with their partners.
std::multimap<std::string, std::string> partners(const kit::Car &car)
{
    std::multimap<std::string, std::string> all;
    for (const auto &w : car.wires) {
        all.emplace(w.from, w.to);
        all.emplace(w.to, w.from);
    }
    return all;
}

bool belongsTo(const std::string &terminal, const std::string &instance)
{
    return terminal.compare(0, instance.size() + 1, instance + ".") == 0;
}

/// Terminals whose wires run to the left: those joined to the board, and those joined to them.
std::set<std::string> leftward(const kit::Car &car, const std::string &board)
{
    std::set<std::string> left;
    bool grew = true;
    const auto reach = [&](const std::string &from, const std::string &to) {
        if ((belongsTo(from, board) || left.count(from)) && !belongsTo(to, board))
            grew |= left.insert(to).second;
    };
    while (grew) {
        grew = false;
        for (const auto &w : car.wires) {
            reach(w.from, w.to);
            reach(w.to, w.from);
        }
    }
    return left;
}

class Layouter
{
public:
    Layouter(const kit::Car &car, const parts::Catalogue &catalogue, qreal width, qreal row)
        : m_car(car), m_catalogue(catalogue), m_width(width), m_row(row), m_partners(partners(car))
    {
    }

    HarnessLayout make()
    {
        if (const auto *board = kit::firstOf(m_car, m_catalogue, Kind::Board))
            m_board = board->id;
        m_left = leftward(m_car, m_board);
        placeBoard();
        placeModules();
        placeMotors();
        for (size_t i = 0; i < m_car.wires.size(); ++i)
            route(i);
        qreal bottom = 0.0;
        for (const auto &p : m_layout.parts)
            bottom = std::max(bottom, p.area.bottom());
        m_layout.height = bottom + 4;
        return std::move(m_layout);
    }

private:
    const parts::Part *partOf(const kit::Instance &i) const { return m_catalogue.find(i.partId); }

    QString title(const kit::Instance &i) const
    {
        const auto *part = partOf(i);
        const auto what = QString::fromStdString(part->name);
        if (part->kind == Kind::Cell)
            return QStringLiteral("%1: %2 × %3")
                .arg(QString::fromStdString(i.id))
                .arg(i.cellsInSeries)
                .arg(what);
        const auto name = QString::fromStdString(i.id);
        return name == what ? name : name + ": " + what;
    }

    void placeBoard()
    {
        const auto *board = m_car.instance(m_board);
        if (board == nullptr)
            return;
        HarnessPart part{board->id, QString::fromStdString(partOf(*board)->name), {}, {}};
        const qreal w = m_width * 0.16;
        const auto &terminals = partOf(*board)->terminals;
        part.area = QRectF(0, 0, w, m_row * (qreal(terminals.size()) + 1.3));
        qreal y = m_row * 1.3;
        for (const auto &t : terminals) {
            part.terminals.push_back({board->id + "." + t.name, {w, y + m_row / 2}, true});
            y += m_row;
        }
        m_layout.parts.push_back(std::move(part));
    }

    /// Mean height of what a terminal is wired to among the parts already placed.
    std::optional<qreal> pull(const std::string &terminal) const
    {
        qreal sum = 0.0;
        int n = 0;
        const auto [begin, end] = m_partners.equal_range(terminal);
        for (auto it = begin; it != end; ++it)
            if (const auto *t = m_layout.terminal(it->second)) {
                sum += t->at.y();
                ++n;
            }
        return n > 0 ? std::optional(sum / n) : std::nullopt;
    }

    qreal pullOf(const kit::Instance &i) const
    {
        qreal sum = 0.0;
        int n = 0;
        for (const auto &t : partOf(i)->terminals)
            if (const auto y = pull(i.id + "." + t.name)) {
                sum += *y;
                ++n;
            }
        constexpr qreal unwired = 1e6;
        return n > 0 ? sum / n : unwired;
    }

    struct Column {
        qreal left;
        qreal width;
        qreal bottom = 0.0;
    };

    void place(const kit::Instance &i, Column &column, bool allLeft)
    {
        HarnessPart part{i.id, title(i), {}, {}};
        std::vector<std::string> left;
        std::vector<std::string> right;
        for (const auto &t : partOf(i)->terminals) {
            const auto name = i.id + "." + t.name;
            const bool wired = m_partners.count(name) > 0;
            const bool motor = t.role == parts::Role::MotorOut;
            (allLeft || m_left.count(name) || (!wired && !motor) ? left : right).push_back(name);
        }
        const auto byPull = [this](const std::string &a, const std::string &b) {
            return pull(a).value_or(1e6) < pull(b).value_or(1e6);
        };
        std::stable_sort(left.begin(), left.end(), byPull);
        const auto rows = qreal(std::max(left.size(), right.size()));
        part.area = QRectF(column.left, column.bottom, column.width, m_row * (rows + 1.3));
        const auto put = [&](const std::vector<std::string> &names, bool onRight) {
            qreal y = part.area.top() + m_row * 1.3;
            for (const auto &name : names) {
                part.terminals.push_back(
                    {name,
                     {onRight ? part.area.right() : part.area.left(), y + m_row / 2},
                     onRight});
                y += m_row;
            }
        };
        put(left, false);
        put(right, true);
        column.bottom = part.area.bottom() + m_row * 0.7;
        m_layout.parts.push_back(std::move(part));
    }

    void placeModules()
    {
        std::vector<const kit::Instance *> modules;
        for (const auto &i : m_car.parts) {
            const auto *part = partOf(i);
            if (part == nullptr || i.id == m_board || part->kind == Kind::Motor ||
                part->terminals.empty())
                continue;
            modules.push_back(&i);
        }
        std::stable_sort(modules.begin(), modules.end(),
                         [this](const auto *a, const auto *b) { return pullOf(*a) < pullOf(*b); });
        Column column{m_width * 0.43, m_width * 0.24};
        for (const auto *m : modules)
            place(*m, column, false);
    }

    void placeMotors()
    {
        Column column{m_width * 0.77, m_width * 0.23};
        std::vector<const kit::Instance *> motors;
        for (const auto &i : m_car.parts)
            if (const auto *part = partOf(i); part && part->kind == Kind::Motor)
                motors.push_back(&i);
        std::stable_sort(motors.begin(), motors.end(),
                         [this](const auto *a, const auto *b) { return pullOf(*a) < pullOf(*b); });
        for (const auto *m : motors) {
            const qreal y = pullOf(*m);
            if (y < 1e5)
                column.bottom = std::max(column.bottom, y - m_row * 2.3);
            place(*m, column, true);
        }
    }

    void route(size_t index)
    {
        const auto &wire = m_car.wires[index];
        const auto *a = m_layout.terminal(wire.from);
        const auto *b = m_layout.terminal(wire.to);
        if (a == nullptr || b == nullptr)
            return;
        if (a->at.x() > b->at.x())
            std::swap(a, b);
        QPainterPath path(a->at);
        const qreal dx = std::abs(b->at.x() - a->at.x());
        if (dx < 1.0) { // within a column: a bow beside it, wider for longer wires
            const qreal bow = (14 + std::abs(b->at.y() - a->at.y()) * 0.16) * (a->onRight ? 1 : -1);
            path.cubicTo(a->at + QPointF(bow, 0), b->at + QPointF(bow, 0), b->at);
        } else {
            const qreal reach = std::max<qreal>(24.0, dx * 0.42);
            path.cubicTo(a->at + QPointF(a->onRight ? reach : -reach, 0),
                         b->at + QPointF(b->onRight ? reach : -reach, 0), b->at);
        }
        m_layout.wires.push_back({index, path});
    }

    const kit::Car &m_car;
    const parts::Catalogue &m_catalogue;
    qreal m_width;
    qreal m_row;
    std::multimap<std::string, std::string> m_partners;
    std::string m_board;
    std::set<std::string> m_left;
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

HarnessLayout layOut(const kit::Car &car, const parts::Catalogue &catalogue, qreal width, qreal row)
{
    return Layouter(car, catalogue, width, row).make();
}

} // namespace badger::app
