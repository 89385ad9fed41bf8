// SPDX-License-Identifier: GPL-3.0-or-later
// A scan as a fan: at each of its angles what is done where that angle is the best.
#include "app/rule/cells_picture.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/base/angle.h"
#include "core/regions/atom_words.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace badger::app
{

using regions::Atom;
using regions::Axis;
using regions::Outcome;

/// The scan that decides alone, by its angle, its number or both. -1: none does.
int CellsPicture::scanSensor() const
{
    int scan = -1;
    for (const auto &axis : m_regions.axes) {
        if (axis.of == Axis::Of::Memo)
            continue;
        const bool isScan =
            (axis.of == Axis::Of::Angle || axis.of == Axis::Of::Sensor) &&
            m_program.readings[static_cast<size_t>(axis.sensor)].source == rules::Source::Scan;
        if (!isScan || (scan >= 0 && axis.sensor != scan))
            return -1;
        scan = axis.sensor;
    }
    return scan;
}

/// Where an axis of the scan stands among the axes. -1: it does not decide by that.
int CellsPicture::axisOf(Axis::Of of) const
{
    for (size_t k = 0; k < m_regions.axes.size(); ++k)
        if (m_regions.axes[k].of == of)
            return static_cast<int>(k);
    return -1;
}

/// What is done where an angle of the scan is the best and its number lies in an atom.
const regions::Cell *CellsPicture::scanCell(double angle_deg, int numberAtom) const
{
    const int angle = axisOf(Axis::Of::Angle);
    const int number = axisOf(Axis::Of::Sensor);
    for (const auto &cell : m_regions.cells) {
        const auto atom = [&](int axis) { return cell.atoms[static_cast<size_t>(axis)]; };
        if (number >= 0 && atom(number) != numberAtom)
            continue;
        if (angle < 0)
            return &cell;
        const auto &a =
            m_regions.axes[static_cast<size_t>(angle)].atoms[static_cast<size_t>(atom(angle))];
        if (angle_deg >= a.from && angle_deg <= a.to)
            return &cell;
    }
    return nullptr;
}

/// "270 ms" where the turn's length follows the angle.
QString CellsPicture::turnWords(const regions::Cell &cell, double angle_deg) const
{
    const auto &hold = m_machine.modes[static_cast<size_t>(cell.to)].hold;
    if (!hold.is || hold.length != rules::Length::PerDegree || hold.scan < 0)
        return {};
    return str(units::quantity(static_cast<double>(hold.time_us) * 1e-6 *
                                   std::abs(angle_deg - machine::ahead_deg),
                               units::Unit::Millisecond, 0));
}

namespace
{

/// A piece of a ring between two angles; 90 degrees is ahead and drawn upwards.
QPolygonF ringPiece(const QPointF &foot, double from_deg, double to_deg, qreal inner, qreal outer)
{
    const auto at = [&](double deg, qreal r) {
        const double rad = deg * degree;
        return foot + QPointF(std::cos(rad) * r, -std::sin(rad) * r);
    };
    QPolygonF piece;
    constexpr int steps = 6;
    for (int k = 0; k <= steps; ++k)
        piece << at(from_deg + (to_deg - from_deg) * k / steps, outer);
    for (int k = steps; k >= 0; --k)
        piece << at(from_deg + (to_deg - from_deg) * k / steps, inner);
    return piece;
}

/// Half way to the neighbours on both sides.
std::pair<double, double> sector(const std::vector<double> &angles, size_t i)
{
    const double low = i > 0               ? (angles[i - 1] + angles[i]) / 2
                       : angles.size() > 1 ? angles[0] - (angles[1] - angles[0]) / 2
                                           : angles[0] - 5.0;
    const double high =
        i + 1 < angles.size() ? (angles[i] + angles[i + 1]) / 2 : 2.0 * angles[i] - low;
    return {low, high};
}

} // namespace

/// One line for each thing that is done, with where it is and how long a turn lasts.
QStringList CellsPicture::fanLines(const std::vector<double> &angles) const
{
    QStringList lines;
    for (const auto &row : m_rows) {
        QStringList where;
        for (const auto &words : regions::rowWords(m_program, m_machine, m_regions, row))
            where << str(words);
        auto what = doing(*row.cell);
        const auto &hold = m_machine.modes[static_cast<size_t>(row.cell->to)].hold;
        if (hold.is && hold.length == rules::Length::PerDegree && hold.scan >= 0)
            what += tr(", up to %1")
                        .arg(str(units::quantity(
                            static_cast<double>(hold.time_us) * 1e-6 *
                                std::max(std::abs(angles.front() - machine::ahead_deg),
                                         std::abs(angles.back() - machine::ahead_deg)),
                            units::Unit::Millisecond, 0)));
        lines << tr("%1: %2").arg(where.join(", "), what);
    }
    return lines;
}

void CellsPicture::paintFan(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto &sensor = m_machine.sensors[static_cast<size_t>(scanSensor())];
    std::vector<double> angles(m_machine.angles_deg.begin() + sensor.angles.first,
                               m_machine.angles_deg.begin() + sensor.angles.end());
    std::sort(angles.begin(), angles.end());
    const QPointF foot(width() * 0.38, height() - 16 * s);
    const qreal radius = std::min(height() - 48 * s, width() * 0.36);
    const qreal inner = radius * 0.3;
    const int number = axisOf(Axis::Of::Sensor);
    // The nearest numbers are the innermost ring, no echo the outermost.
    const int rings =
        number < 0 ? 1 : static_cast<int>(m_regions.axes[static_cast<size_t>(number)].atoms.size());
    QRectF labelled; // by the label before: those that would touch it are left out
    for (size_t i = 0; i < angles.size(); ++i) {
        const auto [low, high] = sector(angles, i);
        QString word;
        for (int ring = 0; ring < rings; ++ring) {
            const auto *cell = scanCell(angles[i], ring);
            if (cell == nullptr)
                continue;
            const bool hole = cell->outcome == Outcome::Hole;
            p.setPen(QPen(m_theme.color(hole ? Tone::Brick : Tone::Ink2), 1));
            p.setBrush(hole ? QBrush(m_theme.color(Tone::Brick), Qt::BDiagPattern)
                            : QBrush(colour(*cell)));
            p.drawPolygon(ringPiece(foot, low, high, inner + (radius - inner) * ring / rings,
                                    inner + (radius - inner) * (ring + 1) / rings));
            if (const auto turn = turnWords(*cell, angles[i]); !turn.isEmpty())
                word = turn;
        }
        const auto ray = ringPiece(foot, angles[i], angles[i], 0, radius).first();
        p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line(), Qt::DotLine));
        p.drawLine(foot, ray);
        p.setPen(m_theme.color(Tone::Ink2));
        p.setFont(m_theme.text(Type::Small));
        const auto place = ringPiece(foot, angles[i], angles[i], 0, radius + 13 * s).first();
        const bool few = angles.size() <= 7;
        const auto label = QString::number(angles[i]) + QStringLiteral("°") +
                           (few && !word.isEmpty() ? " " + word : QString());
        const qreal w = p.fontMetrics().horizontalAdvance(label);
        const qreal left = angles[i] < 85.0   ? place.x() - 6 * s
                           : angles[i] > 95.0 ? place.x() - w + 6 * s
                                              : place.x() - w / 2;
        const QRectF box(left - 2 * s, place.y() - 9 * s, w + 4 * s, 16 * s);
        if (box.intersects(labelled))
            continue;
        labelled = box;
        p.drawText(QPointF(left, place.y() + 4 * s), label);
    }
    // The car's nose at the foot.
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRoundedRect(QRectF(foot.x() - 18 * s, foot.y() - 6 * s, 36 * s, 20 * s), 4 * s, 4 * s);
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QPointF(0, 14 * s), title());
    p.setPen(m_theme.color(Tone::Ink));
    const QRectF room(foot.x() + radius + 60 * s, 4, width() - foot.x() - radius - 62 * s,
                      height() - 8);
    p.drawText(room, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, fanLines(angles).join('\n'));
}

} // namespace badger::app
