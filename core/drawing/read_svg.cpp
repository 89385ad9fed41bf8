// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drawing/drawing.h"

#include "core/base/exact_math.h"
#include "core/drawing/path_data.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <pugixml.hpp>

namespace badger::drawing
{

namespace
{

/// x' = a x + c y + e, y' = b x + d y + f.
struct Transform {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;

    Place operator()(Place p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    Transform operator*(const Transform &o) const
    {
        return {a * o.a + c * o.b, b * o.a + d * o.b,     a * o.c + c * o.d,
                b * o.c + d * o.d, a * o.e + c * o.f + e, b * o.e + d * o.f + f};
    }
    double area() const { return a * d - b * c; }
    /// Lengths in it grow by so much, on the mean over all directions.
    double scale() const { return std::sqrt(std::abs(area())); }
    bool keepsCircles() const
    {
        const double x = std::hypot(a, b), y = std::hypot(c, d);
        return std::abs(x - y) <= 1e-6 * (x + y) && std::abs(a * c + b * d) <= 1e-6 * x * y;
    }
};

std::string_view trimmed(std::string_view text)
{
    const auto *spaces = " \t\r\n";
    const auto from = text.find_first_not_of(spaces);
    if (from == std::string_view::npos)
        return {};
    return text.substr(from, text.find_last_not_of(spaces) - from + 1);
}

std::string_view next(std::string_view &rest, char until)
{
    const auto at = rest.find(until);
    const auto one = rest.substr(0, at);
    rest = at == std::string_view::npos ? std::string_view() : rest.substr(at + 1);
    return trimmed(one);
}

std::optional<Transform> transformOf(std::string_view text)
{
    Transform all;
    std::vector<double> v;
    while (!(text = trimmed(text)).empty()) {
        if (text.front() == ',')
            text.remove_prefix(1);
        const auto open = text.find('(');
        const auto shut = text.find(')');
        if (open == std::string_view::npos || shut == std::string_view::npos || shut < open)
            return std::nullopt;
        const auto word = trimmed(text.substr(0, open));
        if (!numbersOf(text.substr(open + 1, shut - open - 1), v))
            return std::nullopt;
        text.remove_prefix(shut + 1);
        const auto n = v.size();
        Transform t;
        if (word == "matrix" && n == 6)
            t = {v[0], v[1], v[2], v[3], v[4], v[5]};
        else if (word == "translate" && (n == 1 || n == 2))
            t = {1, 0, 0, 1, v[0], n == 2 ? v[1] : 0};
        else if (word == "scale" && (n == 1 || n == 2))
            t = {v[0], 0, 0, v[n - 1], 0, 0};
        else if (word == "rotate" && (n == 1 || n == 3)) {
            const double r = v[0] * exact::pi / 180.0;
            const double s = std::sin(r), c = std::cos(r);
            t = {c, s, -s, c, 0, 0};
            if (n == 3)
                t = Transform{1, 0, 0, 1, v[1], v[2]} * t * Transform{1, 0, 0, 1, -v[1], -v[2]};
        } else if (word == "skewX" && n == 1)
            t = {1, 0, std::tan(v[0] * exact::pi / 180.0), 1, 0, 0};
        else if (word == "skewY" && n == 1)
            t = {1, std::tan(v[0] * exact::pi / 180.0), 0, 1, 0, 0};
        else
            return std::nullopt;
        all = all * t;
    }
    return all;
}

/// A length's number and its unit: "210mm".
std::optional<std::pair<double, std::string_view>> lengthOf(std::string_view text)
{
    text = trimmed(text);
    double value = 0.0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
    if (read.ec != std::errc{} || !std::isfinite(value))
        return std::nullopt;
    return std::pair(value, trimmed(text.substr(size_t(read.ptr - text.data()))));
}

struct Look {
    std::string fill = "#000000"; ///< as SVG has it where nothing is said
    std::string stroke;
    double width = 1.0;
    bool shown = true;
    std::string name;
};

class SvgReader
{
public:
    SvgReader(std::string_view text, const std::string &where) : m_text(text), m_where(where) {}

    Result<Drawing> read()
    {
        if (m_text.size() > mostBytes)
            return fail(Error::Kind::OutOfRange, m_where, say("it is larger than 8 MB"),
                        say("save it without embedded pictures and hidden layers"));
        pugi::xml_document document;
        const auto parsed = document.load_buffer(m_text.data(), m_text.size(),
                                                 pugi::parse_default | pugi::parse_doctype);
        if (!parsed) {
            return fail(Error::Kind::Malformed, at(parsed.offset),
                        say("it is no XML: {}", parsed.description()),
                        say("save the drawing as plain SVG"));
        }
        for (const auto &node : document.children())
            if (node.type() == pugi::node_doctype && std::strstr(node.value(), "ENTITY") != nullptr)
                return fail(Error::Kind::Malformed, m_where, say("it declares entities"),
                            say("save the drawing as plain SVG"));
        const auto root = document.document_element();
        if (tag(root) != "svg")
            return fail(Error::Kind::Malformed, m_where,
                        say("it is no SVG drawing: its root is '{}'", root.name()),
                        say("save the drawing as plain SVG"));
        for (const auto &a : root.attributes())
            if (std::string_view(a.name()).starts_with("data-"))
                m_out.notes[a.name() + 5] = a.value();
        sheets(root);
        frame(root);
        children(root, {}, {}, 0);
        if (m_error)
            return tl::unexpected(*m_error);
        for (const auto &[what, times] : m_left)
            m_out.leftOut.push_back({what, times});
        if (!m_framed)
            cover();
        return std::move(m_out);
    }

private:
    /// Without a prefix: "svg:rect" is a rect.
    static std::string_view tag(const pugi::xml_node &node)
    {
        const std::string_view name = node.name();
        const auto colon = name.find(':');
        return colon == std::string_view::npos ? name : name.substr(colon + 1);
    }

    /// The line of a byte.
    Say at(std::ptrdiff_t byte) const
    {
        const auto before = m_text.substr(0, size_t(std::max<std::ptrdiff_t>(0, byte)));
        return say("{}, line {}", m_where, 1 + std::count(before.begin(), before.end(), '\n'));
    }

    void fails(Error::Kind kind, const pugi::xml_node &node, Say what, Say mend)
    {
        if (!m_error)
            m_error = Error{kind, at(node.offset_debug()), std::move(what), std::move(mend)};
    }

    /// Rules of one class each: ".a { fill: #000 }".
    void sheets(const pugi::xml_node &root)
    {
        for (const auto &found : root.select_nodes("//*[local-name()='style']")) {
            std::string text;
            for (const auto &child : found.node().children())
                text += child.value();
            std::string_view rest = text;
            while (!trimmed(rest).empty()) {
                auto names = next(rest, '{');
                const auto body = next(rest, '}');
                while (!names.empty()) {
                    const auto one = next(names, ',');
                    const bool isClass = one.size() > 1 && one.front() == '.' &&
                                         one.find_first_of(" .>+:[#", 1) == std::string_view::npos;
                    if (isClass)
                        m_classes[std::string(one.substr(1))] += std::string(body) + ";";
                    else if (!one.empty())
                        ++m_left["a rule of a style sheet"];
                }
            }
        }
    }

    void frame(const pugi::xml_node &root)
    {
        std::vector<double> box;
        const bool has = numbersOf(root.attribute("viewBox").value(), box) && box.size() == 4 &&
                         box[2] > 0 && box[3] > 0;
        const auto width = lengthOf(root.attribute("width").value());
        const auto height = lengthOf(root.attribute("height").value());
        if (has) {
            m_out.low = {box[0], box[1]};
            m_out.high = {box[0] + box[2], box[1] + box[3]};
            m_framed = true;
        } else if (width && height && width->first > 0 && height->first > 0 &&
                   width->second != "%" && width->second.empty()) {
            m_out.high = {width->first, height->first};
            m_framed = true;
        }
        static const std::map<std::string_view, double> cm = {
            {"mm", 0.1}, {"cm", 1.0}, {"in", 2.54}, {"pt", 2.54 / 72.0}, {"pc", 2.54 / 6.0}};
        if (has && width && width->first > 0)
            if (const auto unit = cm.find(width->second); unit != cm.end())
                m_out.unitsPerCm = box[2] / (width->first * unit->second);
    }

    void property(Look &look, std::string_view key, std::string_view value,
                  const pugi::xml_node &node)
    {
        if (value == "inherit")
            return;
        if (key == "fill" || key == "stroke") {
            auto colour = colourOf(value);
            if (colour.empty() && value != "none" && value != "transparent" && !value.empty())
                ++m_left[value.find("url(") == 0 ? "a gradient or pattern" : "a colour by name"];
            (key == "fill" ? look.fill : look.stroke) = std::move(colour);
        } else if (key == "stroke-width") {
            const auto width = lengthOf(value);
            if (!width || width->first < 0)
                return fails(Error::Kind::Malformed, node,
                             say("'{}' is no width of a stroke", std::string(value)),
                             say("give it a number"));
            if (!width->second.empty() && width->second != "px")
                ++m_left["the unit of a stroke's width"];
            look.width = width->first;
        } else if ((key == "display" && value == "none") ||
                   (key == "visibility" && value == "hidden")) {
            look.shown = false;
        } else if (key == "stroke-dasharray" && value != "none") {
            ++m_left["the dashes of a stroke (it is read as a whole one)"];
        }
    }

    void list(Look &look, std::string_view text, const pugi::xml_node &node)
    {
        while (!text.empty()) {
            auto one = next(text, ';');
            const auto key = next(one, ':');
            property(look, key, trimmed(one), node);
        }
    }

    /// As the one about it looks, then attributes, classes, and the element's own style.
    Look lookOf(Look look, const pugi::xml_node &node)
    {
        for (const auto *key :
             {"fill", "stroke", "stroke-width", "display", "visibility", "stroke-dasharray"})
            if (const auto a = node.attribute(key))
                property(look, key, trimmed(a.value()), node);
        std::string_view names = node.attribute("class").value();
        while (!trimmed(names).empty()) {
            const auto at = m_classes.find(std::string(next(names, ' ')));
            if (at != m_classes.end())
                list(look, at->second, node);
        }
        list(look, node.attribute("style").value(), node);
        for (const auto &child : node.children())
            if (tag(child) == "title" && *child.child_value() != 0) {
                look.name = std::string(trimmed(child.child_value()));
                return look;
            }
        if (const auto id = node.attribute("id"); id && look.name.empty())
            look.name = id.value();
        return look;
    }

    void children(const pugi::xml_node &of, const Transform &t, const Look &look, int depth)
    {
        if (depth > deepest)
            return fails(Error::Kind::OutOfRange, of,
                         say("more than {} groups stand within each other", deepest),
                         say("ungroup the drawing"));
        const auto own = lookOf(look, of);
        for (const auto &node : of.children()) {
            if (m_error)
                return;
            if (node.type() == pugi::node_element)
                element(node, t, own, depth);
        }
    }

    void element(const pugi::xml_node &node, const Transform &about, const Look &look, int depth)
    {
        const auto name = tag(node);
        const std::string_view full = node.name();
        static constexpr std::string_view silent[] = {"title", "desc", "metadata", "style"};
        if (std::find(std::begin(silent), std::end(silent), name) != std::end(silent) ||
            (full.find(':') != std::string_view::npos && !full.starts_with("svg:")))
            return;
        const auto own = transformOf(node.attribute("transform").value());
        if (!own)
            return fails(Error::Kind::Malformed, node,
                         say("the transform '{}' cannot be read",
                             std::string(node.attribute("transform").value())),
                         say("use matrix, translate, scale, rotate or skew"));
        const auto t = about * *own;
        if (std::abs(t.area()) < 1e-12 || !std::isfinite(t.area()))
            return fails(Error::Kind::Malformed, node,
                         say("a transform makes '{}' flat", std::string(name)),
                         say("undo the scaling by nought"));
        if (name == "g" || name == "a" || name == "svg")
            return group(node, t, look, depth);
        if (name == "defs") {
            return; // shows nothing by itself
        }
        static constexpr std::string_view shapes[] = {"rect",   "line",    "polyline", "polygon",
                                                      "circle", "ellipse", "path"};
        if (std::find(std::begin(shapes), std::end(shapes), name) == std::end(shapes)) {
            ++m_left[std::string(name)];
            return;
        }
        const auto mine = lookOf(look, node);
        if (mine.shown && !(mine.fill.empty() && mine.stroke.empty()))
            shape(node, name, t, mine);
    }

    void group(const pugi::xml_node &node, const Transform &t, const Look &look, int depth)
    {
        auto inner = t;
        if (tag(node) == "svg") {
            if (node.attribute("viewBox"))
                ++m_left["the frame of a drawing within the drawing"];
            inner = t * Transform{1, 0, 0, 1, number(node, "x"), number(node, "y")};
        }
        // Its own look is taken in children(); shown is inherited.
        if (lookOf(look, node).shown)
            children(node, inner, look, depth + 1);
    }

    double number(const pugi::xml_node &node, const char *key, double without = 0.0)
    {
        const auto a = node.attribute(key);
        if (!a)
            return without;
        const auto length = lengthOf(a.value());
        if (length && (length->second.empty() || length->second == "px"))
            return length->first;
        if (length && length->second == "%" && m_framed) {
            const bool down = std::strpbrk(key, "yh") != nullptr; // y, cy, y1, ry, height
            return length->first / 100.0 *
                   (down ? m_out.high.y - m_out.low.y : m_out.high.x - m_out.low.x);
        }
        fails(Error::Kind::Malformed, node,
              say("'{}' of a {} is '{}'", key, std::string(tag(node)), a.value()),
              say("give it a number without a unit"));
        return without;
    }

    void add(const pugi::xml_node &node, const Look &look, const Transform &t,
             std::vector<Place> points, bool closed, double radius = 0.0)
    {
        Shape s;
        s.name = look.name;
        s.fill = look.fill;
        s.stroke = look.stroke;
        s.strokeWidth = look.width * t.scale();
        s.closed = closed;
        s.radius = radius * t.scale();
        for (auto &p : points) {
            p = t(p);
            if (s.points.empty() ||
                !(s.points.back() == p)) // a point that stands twice counts once
                s.points.push_back(p);
        }
        if (closed && s.points.size() > 2 && s.points.front() == s.points.back())
            s.points.pop_back();
        if (radius == 0.0 && s.points.size() < 2)
            return;
        constexpr double farthest = 1e7;
        for (const auto &p : s.points)
            if (!(std::abs(p.x) + std::abs(p.y) + s.radius < farthest))
                return fails(Error::Kind::OutOfRange, node,
                             say("a point lies farther out than 10,000,000 units"),
                             say("draw it near the rest"));
        m_pieces += s.points.size();
        m_out.shapes.push_back(std::move(s));
    }

    void shape(const pugi::xml_node &node, std::string_view name, const Transform &t,
               const Look &look)
    {
        if (name == "rect") {
            const double x = number(node, "x"), y = number(node, "y");
            const double w = number(node, "width"), h = number(node, "height");
            if (node.attribute("rx") || node.attribute("ry"))
                ++m_left["the round corners of a rect (they are read as square)"];
            if (w > 0 && h > 0)
                add(node, look, t, {{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, true);
        } else if (name == "line") {
            add(node, look, t,
                {{number(node, "x1"), number(node, "y1")},
                 {number(node, "x2"), number(node, "y2")}},
                false);
        } else if (name == "circle") {
            const Place middle{number(node, "cx"), number(node, "cy")};
            const double r = number(node, "r");
            if (r > 0 && t.keepsCircles())
                add(node, look, t, {middle}, true, r);
            else if (r > 0)
                add(node, look, t, asPolygon(middle, r), true);
        } else if (name == "ellipse") {
            const Place middle{number(node, "cx"), number(node, "cy")};
            const double rx = number(node, "rx"), ry = number(node, "ry");
            if (rx > 0 && ry > 0)
                add(node, look, t * Transform{rx, 0, 0, ry, middle.x, middle.y}, asPolygon({}, 1.0),
                    true);
        } else if (name == "path") {
            const auto outlines = outlinesOf(node.attribute("d").value());
            if (!outlines)
                return fails(Error::Kind::Malformed, node, say("the way of a path cannot be read"),
                             say("draw it anew, or save the drawing as plain SVG"));
            for (const auto &o : *outlines)
                add(node, look, t, o.points, o.closed);
        } else { // polyline, polygon
            std::vector<double> v;
            if (!numbersOf(node.attribute("points").value(), v) || v.size() % 2 != 0)
                return fails(Error::Kind::Malformed, node,
                             say("the points of a {} cannot be read", std::string(name)),
                             say("write them as x,y pairs"));
            std::vector<Place> points;
            for (size_t i = 0; i + 1 < v.size(); i += 2)
                points.push_back({v[i], v[i + 1]});
            add(node, look, t, std::move(points), name == "polygon");
        }
        if (m_pieces > mostPieces)
            fails(Error::Kind::OutOfRange, node,
                  say("it has more than {} straight pieces", static_cast<long>(mostPieces)),
                  say("simplify its curves, or keep only the walls and lines"));
    }

    void cover()
    {
        bool first = true;
        for (const auto &s : m_out.shapes)
            for (const auto &p : s.points) {
                const double r = s.radius;
                if (first) {
                    m_out.low = {p.x - r, p.y - r};
                    m_out.high = {p.x + r, p.y + r};
                    first = false;
                }
                m_out.low = {std::min(m_out.low.x, p.x - r), std::min(m_out.low.y, p.y - r)};
                m_out.high = {std::max(m_out.high.x, p.x + r), std::max(m_out.high.y, p.y + r)};
            }
    }

    std::string_view m_text;
    const std::string &m_where;
    Drawing m_out;
    std::map<std::string, std::string> m_classes;
    std::map<std::string, int> m_left;
    std::optional<Error> m_error;
    std::size_t m_pieces = 0;
    bool m_framed = false;
};

} // namespace

Result<Drawing> readSvg(std::string_view text, const std::string &where)
{
    return SvgReader(text, where).read();
}

std::vector<Place> asPolygon(Place middle, double radius)
{
    std::vector<Place> points;
    constexpr int pieces = 2 * curvePieces;
    for (int i = 0; i < pieces; ++i) {
        const double a = 2.0 * exact::pi * i / pieces;
        points.push_back({middle.x + radius * std::cos(a), middle.y + radius * std::sin(a)});
    }
    return points;
}

std::string colourOf(std::string_view text)
{
    text = trimmed(text);
    std::string low(text);
    std::transform(low.begin(), low.end(), low.begin(),
                   [](unsigned char c) { return char(std::tolower(c)); });
    const auto isHex = [](std::string_view digits) {
        return std::all_of(digits.begin(), digits.end(),
                           [](unsigned char c) { return std::isxdigit(c) != 0; });
    };
    if (low.size() == 7 && low[0] == '#' && isHex(std::string_view(low).substr(1)))
        return low;
    if (low.size() == 4 && low[0] == '#' && isHex(std::string_view(low).substr(1)))
        return {'#', low[1], low[1], low[2], low[2], low[3], low[3]};
    std::vector<double> v;
    if (low.starts_with("rgb(") && low.back() == ')' &&
        numbersOf(std::string_view(low).substr(4, low.size() - 5), v) && v.size() == 3 &&
        std::all_of(v.begin(), v.end(), [](double c) { return c >= 0 && c <= 255; }))
        return fmt::format("#{:02x}{:02x}{:02x}", int(v[0]), int(v[1]), int(v[2]));
    // The sixteen names of the first HTML, orange and brown.
    static const std::map<std::string_view, const char *> names = {
        {"black", "#000000"},   {"silver", "#c0c0c0"}, {"gray", "#808080"}, {"grey", "#808080"},
        {"white", "#ffffff"},   {"maroon", "#800000"}, {"red", "#ff0000"},  {"purple", "#800080"},
        {"fuchsia", "#ff00ff"}, {"green", "#008000"},  {"lime", "#00ff00"}, {"olive", "#808000"},
        {"yellow", "#ffff00"},  {"navy", "#000080"},   {"blue", "#0000ff"}, {"teal", "#008080"},
        {"aqua", "#00ffff"},    {"orange", "#ffa500"}, {"brown", "#a52a2a"}};
    const auto at = names.find(low);
    return at == names.end() ? std::string() : at->second;
}

std::vector<Colour> coloursOf(const Drawing &drawing)
{
    std::map<std::string, Colour> all;
    for (const auto &s : drawing.shapes) {
        if (!s.stroke.empty()) {
            auto &c = all[s.stroke];
            ++c.outlines;
            c.widest = std::max(c.widest, s.strokeWidth);
        }
        if (!s.fill.empty())
            ++all[s.fill].filled;
    }
    std::vector<Colour> list;
    for (auto &[colour, c] : all) {
        c.colour = colour;
        list.push_back(c);
    }
    std::stable_sort(list.begin(), list.end(), [](const Colour &a, const Colour &b) {
        return a.outlines + a.filled > b.outlines + b.filled;
    });
    return list;
}

} // namespace badger::drawing
