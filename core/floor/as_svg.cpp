// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/as_svg.h"

#include "core/base/medium.h"
#include "core/floor/from_drawing.h"

#include <cmath>
#include <fmt/format.h>

namespace badger::floor
{

namespace
{

constexpr double perMetre = 1000.0;
constexpr double tail_m = 0.15; ///< of the start's line

std::string word(Face face)
{
    return face == Face::Board   ? "wall"
           : face == Face::Rough ? "rough"
           : face == Face::Cloth ? "cloth"
                                 : "foam";
}

class Writer
{
public:
    explicit Writer(const Floor &floor) : m_f(floor) {}

    std::string write()
    {
        const auto &f = m_f;
        m_out = fmt::format(
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}mm\" height=\"{1}mm\" "
            "viewBox=\"0 0 {0} {1}\"\n     data-units-per-cm=\"10\" data-air-degc=\"{2}\" "
            "data-surface=\"{3}\" data-albedo=\"{4}\" data-ambient=\"{5}\" data-rough-floor=\"{6}\" "
            "data-heading-rad=\"{7}\"\n    ",
            length(f.width_m), length(f.depth_m), f.air_degC, medium::xml(f.surface), f.albedo,
            f.ambient, f.rough ? "yes" : "no", f.start.heading_rad);
        for (const auto &m : meanings())
            m_out += fmt::format(" data-{}=\"{}\"", m.word, colourOf(m.word));
        m_out += fmt::format(">\n  <title>{}</title>\n", medium::xml(f.name));
        if (!f.edge.empty())
            way("edge", "edge", f.edge, true, 0.004, false);
        for (const auto &l : f.lines)
            way(l.light ? "light-line" : "line", l.name, l.points, l.closed, l.width_m, true);
        for (const auto &w : f.walls)
            way(word(w.face).c_str(), w.name, {w.from, w.to}, false, 0.004, false);
        for (const auto &p : f.posts)
            m_out += fmt::format(
                "  <circle cx=\"{}\" cy=\"{}\" r=\"{}\" fill=\"{}\"><title>{}</title></circle>\n",
                x(p.at), y(p.at), length(p.radius_m), colourOf("wall"), medium::xml(p.name));
        const auto &s = f.start;
        const Point tail{s.nose.x_m - tail_m * std::cos(s.heading_rad),
                         s.nose.y_m - tail_m * std::sin(s.heading_rad)};
        way("start", "start", {tail, s.nose}, false, 0.006, false);
        return m_out + "</svg>\n";
    }

private:
    /// To a tenth of a micrometre.
    static double rounded(double units) { return std::round(units * 1e4) / 1e4; }
    static double length(double m) { return rounded(m * perMetre); }
    double x(const Point &p) const { return length(p.x_m); }
    double y(const Point &p) const { return length(m_f.depth_m - p.y_m); }

    void way(const char *meaning, const std::string &name, const std::vector<Point> &points,
             bool closed, double width_m, bool round)
    {
        std::string d;
        for (const auto &p : points)
            d += fmt::format("{}{} {}", d.empty() ? "M" : " L", x(p), y(p));
        m_out += fmt::format("  <path d=\"{}{}\" fill=\"none\" stroke=\"{}\" "
                             "stroke-width=\"{}\"{}><title>{}</title></path>\n",
                             d, closed ? " Z" : "", colourOf(meaning), length(width_m),
                             round ? " stroke-linejoin=\"round\"" : "", medium::xml(name));
    }

    const Floor &m_f;
    std::string m_out;
};

} // namespace

const char *colourOf(std::string_view word)
{
    return word == "wall"         ? "#1e2629"
           : word == "rough"      ? "#5b4a3a"
           : word == "cloth"      ? "#7a5c86"
           : word == "foam"       ? "#4a7a86"
           : word == "line"       ? "#000000"
           : word == "light-line" ? "#d8d8d0"
           : word == "edge"       ? "#8a2b20"
                                  : "#b0541e"; // start
}

std::string asSvg(const Floor &floor)
{
    return Writer(floor).write();
}

std::vector<Say> notInSvg(const Floor &floor)
{
    std::vector<Say> all;
    if (!floor.movers.empty())
        all.push_back(say("{0} {0|thing that moves|things that move}",
                          static_cast<long>(floor.movers.size())));
    if (!floor.patches.empty())
        all.push_back(say("{0} {0|shaded part|shaded parts} of the floor",
                          static_cast<long>(floor.patches.size())));
    return all;
}

} // namespace badger::floor
