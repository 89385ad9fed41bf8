// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/mechanics/template.h"

#include "core/base/medium.h"
#include "core/mechanics/discs.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace badger::mechanics
{

using parts::Kind;

namespace
{

units::Quantity length(double length_mm)
{
    return units::quantity(units::toSi(length_mm, units::Unit::Millimetre), units::Unit::Millimetre,
                           1);
}

constexpr double margin_mm = 12.0;
constexpr double footer_mm = 30.0; ///< check line and title
constexpr double checkLine_mm = 100.0;

double mm(double m)
{
    return m * 1000.0;
}

/// The deck's outline runs from the nose at y = 0 down to the tail.
class Drawer
{
public:
    Drawer(const kit::Assembly &car) : m_car(car) {}

    Template draw()
    {
        const auto &g = m_car->geometry;
        m_t.width_mm = mm(g.width_m);
        m_t.length_mm = mm(g.length_m);
        m_t.axle_mm = mm(g.axleToNose_m);
        if (g.deck != kit::DeckShape::Rectangle && g.discRadius_m > 0.0)
            drawDiscs(g);
        for (const auto &fitted : m_car->parts)
            if (const auto *part = m_car.part(fitted))
                drawPart(fitted, *part);
        addCuts();
        return std::move(m_t);
    }

private:
    double x(double y_m) const { return m_t.width_mm / 2.0 - mm(y_m); }
    double y(double x_m) const { return m_t.axle_mm - mm(x_m); }

    void drawDiscs(const kit::Geometry &g)
    {
        m_t.discRadius_mm = mm(g.discRadius_m);
        const double first = m_t.discRadius_mm;
        m_t.discs.emplace_back(m_t.width_mm / 2.0, first);
        if (g.deck == kit::DeckShape::TwoDiscs)
            m_t.discs.emplace_back(m_t.width_mm / 2.0, first + mm(g.discsApart_m));
    }

    void drawPart(const kit::Instance &fitted, const parts::Part &part)
    {
        const auto place = kit::placeOf({m_car}, fitted);
        if (!place || !fitted.carriedBy.empty() || part.kind == Kind::Deck ||
            part.kind == Kind::Wheel)
            return;
        const bool motor = part.kind == Kind::Motor;
        const double mirrored = motor && fitted.side == kit::Side::Right ? -1.0 : 1.0;
        const double cosine = std::cos(place->yaw_rad);
        const double sine = std::sin(place->yaw_rad);
        const auto at = [&](double ahead_m, double left_m) {
            return std::pair{x(place->y_m + sine * ahead_m + cosine * left_m),
                             y(place->x_m + cosine * ahead_m - sine * left_m)};
        };
        const auto size = kit::footprintOf({m_car}, fitted);
        const double back_m = kit::bodyBehind_m(part);
        for (const auto &hole : part.holes) {
            const auto [hx, hy] = at(hole.x_m - back_m, hole.y_m * mirrored);
            m_t.drills.push_back({hx, hy, mm(hole.diameter_m), fitted.id});
        }
        if (!size)
            return;
        // A servo sits in an opening; its outline is drawn by half-lengths from its middle.
        const bool sunk = part.kind == Kind::Servo || part.kind == Kind::DriveServo;
        double w = mm(size->width_m);
        double l = mm(size->length_m);
        if (std::abs(sine) > std::abs(cosine))
            std::swap(w, l);
        const auto [cx, cy] = at(-back_m, 0.0);
        Outline o{cx, cy, w, l, fitted.id, {}, sunk};
        if ((motor || part.kind == Kind::DriveServo) && fitted.side != kit::Side::None)
            o.note = fitted.side == kit::Side::Left ? "forward ↺ from outside"
                                                    : "forward ↻ from outside";
        m_t.outlines.push_back(std::move(o));
    }

    void addCuts()
    {
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr || part->kind != Kind::Deck)
                continue;
            const auto &g = m_car->geometry;
            if (m_t.discs.empty())
                m_t.cuts.push_back(
                    {part->name, 1, say("{} × {}", length(m_t.length_mm), length(m_t.width_mm))});
            else
                m_t.cuts.push_back({part->name, static_cast<int>(m_t.discs.size()),
                                    say("disc of {}", length(2.0 * m_t.discRadius_mm))});
            if (g.deck == kit::DeckShape::TwoDiscs)
                if (const auto area = overlap_m2(g.discRadius_m, g.discsApart_m)) {
                    const double disc = std::numbers::pi * g.discRadius_m * g.discRadius_m;
                    m_t.cuts.push_back(
                        {say("overlap of the discs"), 1,
                         say("{} % of one, centres {} apart",
                             units::number(*area / disc * 100.0, 0), length(mm(g.discsApart_m)))});
                }
        }
        for (const auto &o : m_t.outlines)
            if (o.cut)
                m_t.cuts.push_back(
                    {say("opening for {}", o.part), 1,
                     say("{} × {}, half-lengths {} and {} from the middle", length(o.length_mm),
                         length(o.width_mm), length(o.length_mm / 2.0), length(o.width_mm / 2.0))});
        std::vector<std::pair<double, int>> sizes;
        for (const auto &d : m_t.drills) {
            const auto it = std::find_if(sizes.begin(), sizes.end(), [&](const auto &s) {
                return std::abs(s.first - d.diameter_mm) < 1e-6;
            });
            if (it == sizes.end())
                sizes.emplace_back(d.diameter_mm, 1);
            else
                ++it->second;
        }
        std::sort(sizes.begin(), sizes.end());
        for (const auto &[diameter, count] : sizes)
            m_t.cuts.push_back(
                {say("holes"), count, units::plain(diameter, 1) + " mm"}); // as drills are named
    }

    const kit::Assembly &m_car;
    Template m_t;
};

} // namespace

Template templateOf(const kit::Assembly &car)
{
    return Drawer(car).draw();
}

Page pageOf(const Template &t)
{
    return {std::max(t.width_mm, checkLine_mm) + 2.0 * margin_mm,
            t.length_mm + 2.0 * margin_mm + footer_mm};
}

std::string templateSvg(const Template &t, const std::string &title)
{
    const auto page = pageOf(t);
    const double left = (page.width_mm - t.width_mm) / 2.0;
    std::string s = fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
        "width=\"{0:.2f}mm\" height=\"{1:.2f}mm\" viewBox=\"0 0 {0:.2f} {1:.2f}\">\n"
        "<title>{2}</title>\n<g fill=\"none\" stroke=\"#000000\" stroke-width=\"0.25\" "
        "transform=\"translate({3:.2f} {4:.2f})\">\n",
        page.width_mm, page.height_mm, medium::xml(title), left, margin_mm);
    if (t.discs.empty())
        s += fmt::format("<rect x=\"0\" y=\"0\" width=\"{:.2f}\" height=\"{:.2f}\"/>\n", t.width_mm,
                         t.length_mm);
    for (const auto &[x, y] : t.discs)
        s += fmt::format("<circle cx=\"{:.2f}\" cy=\"{:.2f}\" r=\"{:.2f}\"/>\n", x, y,
                         t.discRadius_mm);
    s += fmt::format("<g stroke-dasharray=\"6 1.5 1 1.5\" stroke-width=\"0.15\">\n"
                     "<line x1=\"{0:.2f}\" y1=\"-4\" x2=\"{0:.2f}\" y2=\"{1:.2f}\"/>\n"
                     "<line x1=\"-6\" y1=\"{2:.2f}\" x2=\"{3:.2f}\" y2=\"{2:.2f}\"/>\n</g>\n",
                     t.width_mm / 2.0, t.length_mm + 4.0, t.axle_mm, t.width_mm + 6.0);
    for (const auto &o : t.outlines)
        s += fmt::format("<rect x=\"{:.2f}\" y=\"{:.2f}\" width=\"{:.2f}\" height=\"{:.2f}\"{}/>\n"
                         "<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"3\" text-anchor=\"middle\" "
                         "fill=\"#000000\" stroke=\"none\" font-family=\"sans-serif\">{}</text>\n",
                         o.x_mm - o.width_mm / 2.0, o.y_mm - o.length_mm / 2.0, o.width_mm,
                         o.length_mm,
                         o.cut ? " stroke-width=\"0.4\"" : " stroke-dasharray=\"1.5 1\"", o.x_mm,
                         o.y_mm + 1.0, medium::xml(o.part + (o.cut ? ", cut" : "")));
    for (const auto &o : t.outlines)
        if (!o.note.empty())
            s += fmt::format("<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"2.6\" "
                             "text-anchor=\"middle\" fill=\"#000000\" stroke=\"none\" "
                             "font-family=\"sans-serif\">{}</text>\n",
                             o.x_mm, o.y_mm + 4.5, medium::xml(english(o.note)));
    for (const auto &d : t.drills)
        s += fmt::format("<circle cx=\"{0:.2f}\" cy=\"{1:.2f}\" r=\"{2:.2f}\"/>\n"
                         "<path d=\"M{3:.2f} {1:.2f}H{4:.2f}M{0:.2f} {5:.2f}V{6:.2f}\" "
                         "stroke-width=\"0.1\"/>\n",
                         d.x_mm, d.y_mm, d.diameter_mm / 2.0, d.x_mm - d.diameter_mm,
                         d.x_mm + d.diameter_mm, d.y_mm - d.diameter_mm, d.y_mm + d.diameter_mm);
    const double lineX = (t.width_mm - checkLine_mm) / 2.0;
    const double lineY = t.length_mm + 14.0;
    s += fmt::format(
        "<path d=\"M{0:.2f} {1:.2f}H{2:.2f}M{0:.2f} {3:.2f}V{4:.2f}M{2:.2f} {3:.2f}V{4:.2f}\" "
        "stroke-width=\"0.4\"/>\n"
        "<g fill=\"#000000\" stroke=\"none\" font-family=\"sans-serif\">\n"
        "<text x=\"{5:.2f}\" y=\"{6:.2f}\" font-size=\"4\" text-anchor=\"middle\">this line is "
        "100 mm: measure it before drilling</text>\n"
        "<text x=\"{5:.2f}\" y=\"{7:.2f}\" font-size=\"4\" text-anchor=\"middle\">{8}</text>\n"
        "</g>\n</g>\n</svg>\n",
        lineX, lineY, lineX + checkLine_mm, lineY - 2.0, lineY + 2.0, t.width_mm / 2.0, lineY + 7.0,
        lineY + 13.0, medium::xml(title));
    return s;
}

} // namespace badger::mechanics
