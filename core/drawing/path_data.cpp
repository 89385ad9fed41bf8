// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drawing/path_data.h"

#include "core/base/exact_math.h"

#include <charconv>
#include <cmath>

namespace badger::drawing
{

namespace
{

bool isSpace(char c)
{
    return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == ',';
}

/// What is left of a text, number by number.
struct Reader {
    std::string_view rest;

    void skip()
    {
        while (!rest.empty() && isSpace(rest.front()))
            rest.remove_prefix(1);
    }
    bool number(double &value)
    {
        skip();
        auto text = rest;
        if (!text.empty() && text.front() == '+')
            text.remove_prefix(1);
        const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
        if (read.ec != std::errc{} || !std::isfinite(value))
            return false;
        rest.remove_prefix(size_t(read.ptr - rest.data()));
        return true;
    }
    /// Of an arc: one digit, which the next number may follow at once.
    bool flag(double &value)
    {
        skip();
        if (rest.empty() || (rest.front() != '0' && rest.front() != '1'))
            return false;
        value = rest.front() == '1' ? 1.0 : 0.0;
        rest.remove_prefix(1);
        return true;
    }
    bool isNumberNext()
    {
        skip();
        return !rest.empty() && (std::isdigit(static_cast<unsigned char>(rest.front())) ||
                                 rest.front() == '-' || rest.front() == '+' || rest.front() == '.');
    }
};

Place operator+(Place a, Place b)
{
    return {a.x + b.x, a.y + b.y};
}
Place operator-(Place a, Place b)
{
    return {a.x - b.x, a.y - b.y};
}
Place operator*(double k, Place a)
{
    return {k * a.x, k * a.y};
}

class PathReader
{
public:
    explicit PathReader(std::string_view d) : m_in{d} {}

    std::optional<std::vector<Outline>> read()
    {
        for (m_in.skip(); !m_in.rest.empty(); m_in.skip()) {
            const char letter = m_in.rest.front();
            m_in.rest.remove_prefix(1);
            if (m_out.empty() && letter != 'M' && letter != 'm')
                return std::nullopt;
            if (!command(letter))
                return std::nullopt;
        }
        return std::move(m_out);
    }

private:
    bool command(char letter)
    {
        const bool relative = letter >= 'a';
        const char kind = relative ? char(letter - 'a' + 'A') : letter;
        if (kind == 'Z') {
            m_out.back().closed = true;
            m_at = m_out.back().points.front();
            m_begun = false;
            m_last = 0;
            return true;
        }
        bool first = true;
        do {
            m_from = relative ? m_at : Place{};
            // Further pairs after an M are lines.
            if (!one(kind == 'M' && !first ? 'L' : kind))
                return false;
            m_last = kind;
            first = false;
        } while (m_in.isNumberNext());
        return true;
    }

    bool place(Place &p)
    {
        if (!m_in.number(p.x) || !m_in.number(p.y))
            return false;
        p = p + m_from;
        return true;
    }

    void to(Place p)
    {
        if (!m_begun) { // after a Z it goes on from where that outline began
            m_out.push_back({{m_at}, false});
            m_begun = true;
        }
        m_out.back().points.push_back(p);
        m_at = p;
    }

    void cubic(Place a, Place b, Place end)
    {
        const Place from = m_at;
        for (int i = 1; i <= curvePieces; ++i) {
            const double t = double(i) / curvePieces;
            const double s = 1.0 - t;
            to(i == curvePieces
                   ? end
                   : s * s * s * from + 3 * s * s * t * a + 3 * s * t * t * b + t * t * t * end);
        }
        m_handle = b;
    }

    void quadratic(Place a, Place end)
    {
        const Place from = m_at;
        cubic(from + 2.0 / 3.0 * (a - from), end + 2.0 / 3.0 * (a - end), end);
        m_handle = a;
    }

    /// The middle of an arc from its ends: SVG 1.1, appendix F.6.5.
    bool arc()
    {
        double rx = 0, ry = 0, turn = 0, large = 0, sweep = 0;
        Place end;
        if (!m_in.number(rx) || !m_in.number(ry) || !m_in.number(turn) || !m_in.flag(large) ||
            !m_in.flag(sweep) || !place(end))
            return false;
        rx = std::abs(rx);
        ry = std::abs(ry);
        if (rx == 0.0 || ry == 0.0 || end == m_at) {
            to(end);
            return true;
        }
        const double c = std::cos(turn * exact::pi / 180.0);
        const double s = std::sin(turn * exact::pi / 180.0);
        const Place half = 0.5 * (m_at - end);
        const Place p{c * half.x + s * half.y, c * half.y - s * half.x};
        const double over = p.x * p.x / (rx * rx) + p.y * p.y / (ry * ry);
        if (over > 1.0) { // the ends are farther apart than it reaches
            rx *= std::sqrt(over);
            ry *= std::sqrt(over);
        }
        const double down = rx * rx * p.y * p.y + ry * ry * p.x * p.x;
        const double k = (large == sweep ? -1.0 : 1.0) *
                         std::sqrt(std::max(0.0, rx * rx * ry * ry / down - 1.0));
        const Place q{k * rx * p.y / ry, -k * ry * p.x / rx};
        const Place middle = Place{c * q.x - s * q.y, s * q.x + c * q.y} + 0.5 * (m_at + end);
        const double a = std::atan2((p.y - q.y) / ry, (p.x - q.x) / rx);
        double way = std::atan2((-p.y - q.y) / ry, (-p.x - q.x) / rx) - a;
        if (sweep == 0.0 && way > 0.0)
            way -= 2.0 * exact::pi;
        if (sweep != 0.0 && way < 0.0)
            way += 2.0 * exact::pi;
        for (int i = 1; i < curvePieces; ++i) {
            const double angle = a + way * i / curvePieces;
            const Place r{rx * std::cos(angle), ry * std::sin(angle)};
            to(middle + Place{c * r.x - s * r.y, s * r.x + c * r.y});
        }
        to(end);
        return true;
    }

    bool one(char kind)
    {
        Place a, b, end;
        double value = 0.0;
        switch (kind) {
        case 'M':
            if (!place(end))
                return false;
            m_out.push_back({{end}, false});
            m_begun = true;
            m_at = end;
            return true;
        case 'L':
            return place(end) && (to(end), true);
        case 'H':
            return m_in.number(value) && (to({value + m_from.x, m_at.y}), true);
        case 'V':
            return m_in.number(value) && (to({m_at.x, value + m_from.y}), true);
        case 'C':
            return place(a) && place(b) && place(end) && (cubic(a, b, end), true);
        case 'S':
            a = m_last == 'C' || m_last == 'S' ? m_at + (m_at - m_handle) : m_at;
            return place(b) && place(end) && (cubic(a, b, end), true);
        case 'Q':
            return place(a) && place(end) && (quadratic(a, end), true);
        case 'T':
            a = m_last == 'Q' || m_last == 'T' ? m_at + (m_at - m_handle) : m_at;
            return place(end) && (quadratic(a, end), true);
        case 'A':
            return arc();
        default:
            return false;
        }
    }

    Reader m_in;
    std::vector<Outline> m_out;
    Place m_at, m_from, m_handle;
    char m_last = 0;
    bool m_begun = false;
};

} // namespace

std::optional<std::vector<Outline>> outlinesOf(std::string_view d)
{
    return PathReader(d).read();
}

bool numbersOf(std::string_view text, std::vector<double> &numbers)
{
    Reader in{text};
    numbers.clear();
    for (in.skip(); !in.rest.empty(); in.skip()) {
        double value = 0.0;
        if (!in.number(value))
            return false;
        numbers.push_back(value);
    }
    return true;
}

} // namespace badger::drawing
