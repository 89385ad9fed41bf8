// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/from_drawing.h"

#include "core/floor/as_svg.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace badger::floor
{

namespace
{

using drawing::Shape;

constexpr size_t mostWalls = 1000, mostPosts = 1000, mostLines = 100, mostPoints = 2000;

std::optional<Face> faceOf(std::string_view word)
{
    if (word == "wall")
        return Face::Board;
    if (word == "rough")
        return Face::Rough;
    if (word == "cloth")
        return Face::Cloth;
    if (word == "foam")
        return Face::Foam;
    return std::nullopt;
}

std::optional<double> numberIn(const std::map<std::string, std::string> &notes, const char *key)
{
    const auto at = notes.find(key);
    if (at == notes.end())
        return std::nullopt;
    double value = 0.0;
    const auto *end = at->second.data() + at->second.size();
    const auto read = std::from_chars(at->second.data(), end, value);
    if (read.ec != std::errc{} || read.ptr != end || !std::isfinite(value))
        return std::nullopt;
    return value;
}

class Taker
{
public:
    Taker(const drawing::Drawing &from, const Taking &taking, double unitsPerCm)
        : m_from(from), m_taking(taking), m_unit_m(0.01 / unitsPerCm)
    {
        m_low = from.low;
        m_high = from.high;
    }

    Result<FromDrawing> take(const std::string &name)
    {
        auto &f = m_out.floor;
        f.name = name;
        f.air_degC = m_taking.air_degC;
        f.surface = m_taking.surface;
        fit();
        f.width_m = rounded((m_high.x - m_low.x) * m_unit_m);
        f.depth_m = rounded((m_high.y - m_low.y) * m_unit_m);
        if (!(f.width_m >= 0.1 && f.depth_m >= 0.1 && f.width_m <= 100 && f.depth_m <= 100))
            return fail(Error::Kind::OutOfRange, "units-per-cm",
                        say("the plan would be {} by {}",
                            units::quantity(f.width_m, units::Unit::Metre, 2),
                            units::quantity(f.depth_m, units::Unit::Metre, 2)),
                        say("say how many of the drawing's units are a centimetre"));
        std::map<std::string, int> unsaid;
        for (const auto &s : m_from.shapes)
            if (auto ok = shape(s, unsaid); !ok)
                return tl::unexpected(ok.error());
        if (auto ok = holds(); !ok)
            return tl::unexpected(ok.error());
        for (const auto &[colour, times] : unsaid)
            m_out.said.push_back(say("left out: {0} {0|shape|shapes} in {1}, of which nothing is "
                                     "said",
                                     static_cast<long>(times), colour));
        for (const auto &l : m_from.leftOut)
            m_out.said.push_back(say("not read: {} ({} ×)", l.what, static_cast<long>(l.times)));
        if (!m_started) {
            f.start.nose = {std::min(0.3, f.width_m / 3.0), f.depth_m / 2.0};
            m_out.said.push_back(
                say("no start is drawn: it stands at the left, in the middle, and looks right"));
        }
        light();
        return std::move(m_out);
    }

private:
    /// To a micrometre: what a drawing program's rounding leaves is no distance.
    static double rounded(double m) { return std::round(m * 1e6) / 1e6; }

    Point at(drawing::Place p) const
    {
        return {rounded((p.x - m_low.x) * m_unit_m), rounded((m_high.y - p.y) * m_unit_m)};
    }

    std::string wordOf(const std::string &colour) const
    {
        for (const auto &[word, colours] : m_taking.colours)
            if (!colour.empty() && colours.find(colour) != std::string::npos)
                return word;
        return {};
    }

    /// The frame holds every shape that is taken.
    void fit()
    {
        for (const auto &s : m_from.shapes) {
            if (wordOf(s.stroke).empty() && wordOf(s.fill).empty())
                continue;
            for (const auto &p : s.points) {
                m_low = {std::min(m_low.x, p.x - s.radius), std::min(m_low.y, p.y - s.radius)};
                m_high = {std::max(m_high.x, p.x + s.radius), std::max(m_high.y, p.y + s.radius)};
            }
        }
        const double grown = std::max({m_from.low.x - m_low.x, m_high.x - m_from.high.x,
                                       m_from.low.y - m_low.y, m_high.y - m_from.high.y});
        if (grown * m_unit_m > 0.001)
            m_out.said.push_back(say("shapes lie outside the drawing's frame: the plan is larger"));
    }

    Result<void> shape(const Shape &s, std::map<std::string, int> &unsaid)
    {
        const auto stroke = wordOf(s.stroke);
        const auto fill = wordOf(s.fill);
        if (stroke.empty() && fill.empty()) {
            ++unsaid[s.stroke.empty() ? s.fill : s.stroke];
            return {};
        }
        // Where both mean something the stroke is what was drawn last.
        const auto &word = stroke.empty() ? fill : stroke;
        if (const auto face = faceOf(word)) {
            wall(s, *face, !fill.empty());
            return {};
        }
        if (word == "line" || word == "light-line")
            return line(s, word == "light-line", stroke.empty());
        if (word == "edge")
            return edge(s);
        return start(s);
    }

    std::string nameOf(const Shape &s, const char *without, size_t n) const
    {
        if (!s.name.empty())
            return s.name.substr(0, 80);
        return std::string(without) + " " + std::to_string(n + 1);
    }

    void wall(const Shape &s, Face face, bool filled)
    {
        auto &f = m_out.floor;
        if (s.radius > 0.0 && filled && face == Face::Board) {
            Post post;
            post.name = nameOf(s, "post", m_posts++);
            post.at = at(s.points.front());
            post.radius_m = rounded(s.radius * m_unit_m);
            f.posts.push_back(std::move(post));
            return;
        }
        const auto points =
            s.radius > 0.0 ? drawing::asPolygon(s.points.front(), s.radius) : s.points;
        const auto name = nameOf(s, "wall", m_walls++);
        const size_t count = points.size() - (s.closed && points.size() > 2 ? 0 : 1);
        for (size_t i = 0; i < count && f.walls.size() <= mostWalls; ++i)
            f.walls.push_back({name, at(points[i]), at(points[(i + 1) % points.size()]), {}, face});
    }

    Result<void> line(const Shape &s, bool light, bool filledOnly)
    {
        auto &f = m_out.floor;
        const auto name = nameOf(s, "line", f.lines.size());
        if (filledOnly)
            return fail(Error::Kind::Malformed, name,
                        say("it is a filled shape in a line's colour, and its width is not known"),
                        say("draw it as a stroke as wide as the line"));
        Line l;
        l.name = name;
        l.light = light;
        l.closed = s.closed;
        l.width_m = rounded(s.strokeWidth * m_unit_m);
        if (!(l.width_m >= 0.001 && l.width_m <= 0.5))
            return fail(Error::Kind::OutOfRange, name,
                        say("its stroke would be {} wide",
                            units::quantity(l.width_m, units::Unit::Millimetre, 1)),
                        say("draw it as wide as the line, 1 to 500 mm"));
        const auto points =
            s.radius > 0.0 ? drawing::asPolygon(s.points.front(), s.radius) : s.points;
        for (const auto &p : points)
            l.points.push_back(at(p));
        f.lines.push_back(std::move(l));
        return {};
    }

    Result<void> edge(const Shape &s)
    {
        auto &f = m_out.floor;
        if (!s.closed || (s.radius == 0.0 && s.points.size() < 3))
            return fail(Error::Kind::Malformed, "edge", say("its outline is not closed"),
                        say("close the path of the table's edge"));
        if (!f.edge.empty())
            return fail(Error::Kind::Malformed, "edge", say("there are two outlines in its colour"),
                        say("keep one: a floor has one edge"));
        for (const auto &p :
             s.radius > 0.0 ? drawing::asPolygon(s.points.front(), s.radius) : s.points)
            f.edge.push_back(at(p));
        return {};
    }

    Result<void> start(const Shape &s)
    {
        auto &f = m_out.floor;
        if (m_started || s.closed || s.points.size() != 2)
            return fail(Error::Kind::Malformed, "start",
                        m_started ? say("there are two shapes in its colour")
                                  : say("it is no straight line"),
                        say("draw one line from the car's tail to its nose"));
        m_started = true;
        f.start.nose = at(s.points[1]);
        f.start.heading_rad =
            std::atan2(s.points[0].y - s.points[1].y, s.points[1].x - s.points[0].x);
        if (const auto exact = numberIn(m_from.notes, "heading-rad");
            exact && std::abs(std::remainder(*exact - f.start.heading_rad, 2 * 3.14159265)) < 1e-3)
            f.start.heading_rad = *exact;
        return {};
    }

    /// What asSvg() notes of the floor.
    void light()
    {
        auto &f = m_out.floor;
        const auto share = [&](const char *key, double &value) {
            if (const auto v = numberIn(m_from.notes, key); v && *v >= 0.0 && *v <= 1.0)
                value = *v;
        };
        share("albedo", f.albedo);
        share("ambient", f.ambient);
        const auto rough = m_from.notes.find("rough-floor");
        f.rough = rough != m_from.notes.end() && rough->second == "yes";
    }

    Result<void> holds()
    {
        const auto &f = m_out.floor;
        const auto refuse = [](const char *what, size_t most) {
            return fail(Error::Kind::OutOfRange, what,
                        say("there would be more than {} of them", static_cast<long>(most)),
                        say("simplify the drawing's curves, or keep only what the car can meet"));
        };
        if (f.walls.size() > mostWalls)
            return refuse("walls", mostWalls);
        if (f.posts.size() > mostPosts)
            return refuse("posts", mostPosts);
        if (f.lines.size() > mostLines)
            return refuse("lines", mostLines);
        if (f.edge.size() > 200)
            return refuse("points of the edge", 200);
        for (const auto &l : f.lines)
            if (l.points.size() > mostPoints)
                return refuse("points of a line", mostPoints);
        return {};
    }

    const drawing::Drawing &m_from;
    const Taking &m_taking;
    double m_unit_m;
    drawing::Place m_low, m_high;
    FromDrawing m_out;
    size_t m_walls = 0, m_posts = 0; ///< shapes, for their names
    bool m_started = false;
};

} // namespace

const std::vector<Meaning> &meanings()
{
    static const std::vector<Meaning> all = {
        {"wall", "flat and hard upright faces; filled circles are posts"},
        {"rough", "hard and uneven upright faces"},
        {"cloth", "upright faces that swallow most of a ping"},
        {"foam", "upright faces of foam"},
        {"line", "dark lines, as wide as they are drawn"},
        {"light-line", "light lines, as wide as they are drawn"},
        {"edge", "the edge of a table, one closed outline"},
        {"start", "one line from the car's tail to its nose"}};
    return all;
}

Say listed(const std::vector<drawing::Colour> &colours)
{
    std::vector<Say> all;
    for (const auto &c : colours)
        all.push_back(say("{} ({} outlined, {} filled)", c.colour, static_cast<long>(c.outlines),
                          static_cast<long>(c.filled)));
    return joined(all, ", ");
}

Taking takingOf(const drawing::Drawing &drawing)
{
    Taking t;
    for (const auto &m : meanings()) {
        const auto note = drawing.notes.find(m.word);
        if (note != drawing.notes.end())
            if (auto colour = drawing::colourOf(note->second); !colour.empty())
                t.colours[m.word] = std::move(colour);
    }
    t.unitsPerCm = drawing.unitsPerCm;
    if (const auto v = numberIn(drawing.notes, "units-per-cm"); v && *v > 0.0)
        t.unitsPerCm = v;
    if (const auto v = numberIn(drawing.notes, "air-degc"); v && *v >= -40.0 && *v <= 60.0)
        t.air_degC = *v;
    const auto surface = drawing.notes.find("surface");
    if (surface != drawing.notes.end())
        t.surface = surface->second.substr(0, 2000);
    return t;
}

Result<FromDrawing> fromDrawing(const drawing::Drawing &drawing, const Taking &taking,
                                const std::string &name)
{
    const auto colours = drawing::coloursOf(drawing);
    if (drawing.shapes.empty())
        return fail(Error::Kind::Malformed, "the drawing",
                    say("it shows no shape that can be read"),
                    say("draw walls and lines as lines, rectangles, circles or paths"));
    std::map<std::string, std::string> taken;
    for (const auto &[word, texts] : taking.colours) {
        const bool known = std::any_of(meanings().begin(), meanings().end(),
                                       [&w = word](const Meaning &m) { return w == m.word; });
        if (!known) {
            std::vector<Say> words;
            for (const auto &m : meanings())
                words.emplace_back(m.word);
            return fail(Error::Kind::Missing, word, say("a colour cannot mean '{}'", word),
                        say("use one of: {}", joined(words, ", ")));
        }
        size_t from = 0;
        while (from < texts.size()) {
            const auto space = std::min(texts.find(' ', from), texts.size());
            const auto text = texts.substr(from, space - from);
            from = space + 1;
            const auto colour = drawing::colourOf(text);
            if (colour.empty())
                return fail(Error::Kind::Malformed, word, say("'{}' is no colour", text),
                            say("write it as #1e2629"));
            const auto [before, fresh] = taken.try_emplace(colour, word);
            if (!fresh)
                return fail(Error::Kind::Conflict, word,
                            say("{} is said to be {} as well", colour, before->second),
                            say("give each colour one meaning"));
        }
    }
    bool any = false;
    Taking clean = taking;
    clean.colours.clear();
    // What the drawing itself notes may be of nothing that is in it.
    const auto own = takingOf(drawing).colours;
    for (const auto &[colour, word] : taken) {
        const bool isThere = std::any_of(colours.begin(), colours.end(),
                                         [&c = colour](const auto &k) { return k.colour == c; });
        const auto noted = own.find(word);
        if (!isThere && (noted == own.end() || noted->second != colour))
            return fail(Error::Kind::Missing, word, say("nothing is drawn in {}", colour),
                        say("the drawing has: {}", listed(colours)));
        auto &list = clean.colours[word];
        list += (list.empty() ? "" : " ") + colour;
        any |= isThere && word != "start";
    }
    if (!any)
        return fail(Error::Kind::Missing, "colours",
                    say("it is not said which colour is a wall and which a line"),
                    say("the drawing has: {}", listed(colours)));
    const auto scale = taking.unitsPerCm ? taking.unitsPerCm : drawing.unitsPerCm;
    if (!scale)
        return fail(Error::Kind::Missing, "units-per-cm",
                    say("the drawing does not say how large it is"),
                    say("say how many of its units are a centimetre"));
    if (!(*scale >= 1e-4 && *scale <= 1e6))
        return fail(Error::Kind::OutOfRange, "units-per-cm", say("it is outside 0.0001 to 1000000"),
                    say("say how many of its units are a centimetre"));
    return Taker(drawing, clean, *scale).take(name);
}

} // namespace badger::floor
