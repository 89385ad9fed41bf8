// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/arena/lanes.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <numeric>

// Wide registers where the machine has them, chosen when the program starts.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) &&                             \
    !defined(__SANITIZE_ADDRESS__)
#define BADGER_WIDE __attribute__((target_clones("avx2", "default")))
#else
#define BADGER_WIDE
#endif

namespace badger::arena
{

namespace
{

// Helpers are drawn into the kernels, so that how they would be called is of no matter.
#pragma GCC diagnostic ignored "-Wpsabi"
#define BADGER_INSIDE [[gnu::always_inline]] inline

typedef double Four __attribute__((vector_size(32)));
constexpr std::size_t wide = 4;

BADGER_INSIDE Four at(const std::vector<double> &column, std::size_t i)
{
    Four v;
    std::memcpy(&v, column.data() + i, sizeof v);
    return v;
}
BADGER_INSIDE Four all(double d)
{
    return Four{d, d, d, d};
}
BADGER_INSIDE void put(Keys &out, std::size_t i, const Four &v)
{
    std::memcpy(out.data() + i, &v, sizeof v);
}

BADGER_INSIDE bool any(const Four &hits)
{
    return hits[0] + hits[1] + hits[2] + hits[3] > 0.0;
}
BADGER_INSIDE Four toWalls2(const WallLanes &w, std::size_t n, Vec p)
{
    const Four tx = all(p.x) - at(w.ax, n), ty = all(p.y) - at(w.ay, n);
    const Four ux = at(w.ux, n), uy = at(w.uy, n), l = at(w.length, n);
    Four along = tx * ux + ty * uy;
    along = along > all(0.0) ? along : all(0.0);
    along = along < l ? along : l;
    const Four dx = tx - along * ux, dy = ty - along * uy;
    return dx * dx + dy * dy;
}

/// A place on a curve that fills the plane (Morton's order): x and y bit by bit.
std::uint64_t onCurve(Vec p)
{
    const auto spread = [](double d) {
        auto v = static_cast<std::uint64_t>(std::clamp((d + 2000.0) * 1000.0, 0.0, 4294967295.0));
        std::uint64_t s = 0;
        for (int i = 0; i < 32; ++i)
            s |= (v >> i & 1U) << (2 * i);
        return s;
    };
    return spread(p.x) | spread(p.y) << 1U;
}

template <class Middle> std::vector<int> alongCurve(std::size_t count, Middle middle)
{
    std::vector<int> order(count);
    std::iota(order.begin(), order.end(), 0);
    std::vector<std::uint64_t> keys(count);
    for (std::size_t i = 0; i < count; ++i)
        keys[i] = onCurve(middle(i));
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) {
        return keys[static_cast<std::size_t>(a)] < keys[static_cast<std::size_t>(b)];
    });
    return order;
}

Vec lower(Vec a, Vec b)
{
    return {std::min(a.x, b.x), std::min(a.y, b.y)};
}
Vec upper(Vec a, Vec b)
{
    return {std::max(a.x, b.x), std::max(a.y, b.y)};
}

} // namespace

void Boxes::add(Vec low, Vec high)
{
    lowX.push_back(low.x);
    lowY.push_back(low.y);
    highX.push_back(high.x);
    highY.push_back(high.y);
    ++count;
}

void Boxes::pad()
{
    while (lowX.size() % block != 0)
        for (auto *column : {&lowX, &lowY, &highX, &highY})
            column->push_back(1e9);
}

WallLanes wallLanes(const std::vector<Vec> &a, const std::vector<Vec> &b)
{
    WallLanes w;
    w.order = alongCurve(a.size(), [&](std::size_t i) { return 0.5 * (a[i] + b[i]); });
    while (w.order.size() % block != 0)
        w.order.push_back(-1);
    Vec low, high;
    for (std::size_t lane = 0; lane < w.order.size(); ++lane) {
        const bool real = w.order[lane] >= 0;
        const auto i = static_cast<std::size_t>(real ? w.order[lane] : 0);
        // Padding is a short wall where nothing ever is.
        const Vec from = real ? a[i] : Vec{1e9, 1e9};
        const Vec to = real ? b[i] : Vec{1e9 + 1.0, 1e9};
        const double l = length(to - from);
        w.ax.push_back(from.x);
        w.ay.push_back(from.y);
        w.bx.push_back(to.x);
        w.by.push_back(to.y);
        w.ux.push_back((1.0 / l) * (to - from).x);
        w.uy.push_back((1.0 / l) * (to - from).y);
        w.length.push_back(l);
        if (lane % block == 0) {
            low = lower(from, to);
            high = upper(from, to);
        } else if (real) {
            low = lower(low, lower(from, to));
            high = upper(high, upper(from, to));
        }
        if (lane % block == block - 1)
            w.boxes.add(low, high);
    }
    w.boxes.pad();
    return w;
}

PointLanes pointLanes(const std::vector<Vec> &points)
{
    PointLanes p;
    p.order = alongCurve(points.size(), [&](std::size_t i) { return points[i]; });
    while (p.order.size() % block != 0)
        p.order.push_back(-1);
    Vec low, high;
    for (std::size_t lane = 0; lane < p.order.size(); ++lane) {
        const bool real = p.order[lane] >= 0;
        const Vec at = real ? points[static_cast<std::size_t>(p.order[lane])] : Vec{1e9, 1e9};
        p.x.push_back(at.x);
        p.y.push_back(at.y);
        if (lane % block == 0) {
            low = high = at;
        } else if (real) {
            low = lower(low, at);
            high = upper(high, at);
        }
        if (lane % block == block - 1)
            p.boxes.add(low, high);
    }
    p.boxes.pad();
    return p;
}

BADGER_WIDE void boxDistances2(const Boxes &boxes, std::size_t first, Vec p, Keys &out)
{
    const Four px = all(p.x), py = all(p.y), nought = all(0.0);
    for (std::size_t i = 0; i < block; i += wide) {
        const Four lx = at(boxes.lowX, first + i) - px, hx = px - at(boxes.highX, first + i);
        const Four ly = at(boxes.lowY, first + i) - py, hy = py - at(boxes.highY, first + i);
        Four dx = lx > hx ? lx : hx;
        Four dy = ly > hy ? ly : hy;
        dx = dx > nought ? dx : nought;
        dy = dy > nought ? dy : nought;
        put(out, i, dx * dx + dy * dy);
    }
}

BADGER_WIDE bool boxesOnTheWay(const Boxes &boxes, std::size_t first, Vec p, Vec q, Keys &out)
{
    const Vec low{p.x < q.x ? p.x : q.x, p.y < q.y ? p.y : q.y};
    const Vec high{p.x < q.x ? q.x : p.x, p.y < q.y ? q.y : p.y};
    Four hits = all(0.0);
    for (std::size_t i = 0; i < block; i += wide) {
        const auto meets = (at(boxes.lowX, first + i) <= all(high.x)) &
                           (at(boxes.highX, first + i) >= all(low.x)) &
                           (at(boxes.lowY, first + i) <= all(high.y)) &
                           (at(boxes.highY, first + i) >= all(low.y));
        hits += meets ? all(1.0) : all(0.0);
        put(out, i, meets ? all(0.0) : all(farAway));
    }
    return any(hits);
}

BADGER_WIDE bool distances2(const WallLanes &w, std::size_t b, Vec p, double limit2, Keys &out)
{
    Four hits = all(0.0);
    for (std::size_t i = 0; i < block; i += wide) {
        const Four d2 = toWalls2(w, b * block + i, p);
        hits += d2 < all(limit2) ? all(1.0) : all(0.0);
        put(out, i, d2);
    }
    return any(hits);
}

BADGER_WIDE double least2(const WallLanes &w, std::size_t b, Vec p)
{
    Four least = all(farAway);
    for (std::size_t i = 0; i < block; i += wide) {
        const Four d2 = toWalls2(w, b * block + i, p);
        least = d2 < least ? d2 : least;
    }
    const double one = least[0] < least[1] ? least[0] : least[1];
    const double other = least[2] < least[3] ? least[2] : least[3];
    return one < other ? one : other;
}

BADGER_WIDE bool feet(const WallLanes &w, std::size_t b, Vec p, double limit, Keys &out)
{
    const Four px = all(p.x), py = all(p.y), nought = all(0.0);
    Four hits = all(0.0);
    for (std::size_t i = 0; i < block; i += wide) {
        const std::size_t n = b * block + i;
        const Four tx = px - at(w.ax, n), ty = py - at(w.ay, n);
        const Four ux = at(w.ux, n), uy = at(w.uy, n);
        const Four along = tx * ux + ty * uy;
        const Four side = ux * ty - uy * tx;
        const Four away = side < nought ? -side : side;
        const auto meant = (along >= nought) & (along <= at(w.length, n)) & (away < all(limit));
        hits += meant ? all(1.0) : nought;
        put(out, i, meant ? away : all(farAway));
    }
    return any(hits);
}

BADGER_WIDE bool folds(const WallLanes &w, std::size_t b, Vec p, Vec image, double limit2,
                       Keys &out)
{
    const Four px = all(p.x), py = all(p.y);
    Four hits = all(0.0);
    for (std::size_t i = 0; i < block; i += wide) {
        const std::size_t n = b * block + i;
        const Four ux = at(w.ux, n), uy = at(w.uy, n);
        const Four away = ux * (py - at(w.ay, n)) - uy * (px - at(w.ax, n));
        // The image of p: p - 2 away (-uy, ux). The way to it has to meet the wall.
        const Four dx = px + 2.0 * away * uy - all(image.x);
        const Four dy = py - 2.0 * away * ux - all(image.y);
        const Four r2 = (dx * dx + dy * dy) * all(0.25);
        const Four tx = at(w.ax, n) - all(image.x), ty = at(w.ay, n) - all(image.y);
        // Shares of the way and of the wall, times `across`, whose sign is taken out.
        const Four over = dx * uy - dy * ux;
        const Four sign = over < all(0.0) ? all(-1.0) : all(1.0);
        const Four across = over * sign;
        const Four way = (tx * uy - ty * ux) * sign;
        const Four along = (tx * dy - ty * dx) * sign;
        const auto meant = (r2 < all(limit2)) & (across > all(0.0)) & (along >= all(0.0)) &
                           (along <= at(w.length, n) * across) & (way > all(1e-6) * across) &
                           (way < all(1.0 - 1e-6) * across);
        hits += meant ? all(1.0) : all(0.0);
        put(out, i, meant ? r2 : all(farAway));
    }
    return any(hits);
}

BADGER_WIDE bool between(const WallLanes &w, std::size_t b, Vec p, Vec left, Vec right,
                         double limit2, Keys &out)
{
    const Four px = all(p.x), py = all(p.y), nought = all(0.0);
    const Four lx = all(left.x), ly = all(left.y), rx = all(right.x), ry = all(right.y);
    Four hits = nought;
    for (std::size_t i = 0; i < block; i += wide) {
        const std::size_t n = b * block + i;
        const Four ax = at(w.ax, n) - px, ay = at(w.ay, n) - py;
        const Four bx = at(w.bx, n) - px, by = at(w.by, n) - py;
        const auto leftOf = (lx * ay - ly * ax > nought) & (lx * by - ly * bx > nought);
        const auto rightOf = (rx * ay - ry * ax < nought) & (rx * by - ry * bx < nought);
        const auto behind =
            ((lx + rx) * ax + (ly + ry) * ay < nought) & ((lx + rx) * bx + (ly + ry) * by < nought);
        const Four d2 = toWalls2(w, n, p);
        const auto out_ = leftOf | rightOf | behind | (d2 >= all(limit2));
        hits += out_ ? nought : all(1.0);
        put(out, i, out_ ? all(farAway) : d2);
    }
    return any(hits);
}

BADGER_WIDE bool crossed(const WallLanes &w, std::size_t b, Vec p, Vec q)
{
    constexpr double end = 1e-6;
    const Four px = all(p.x), py = all(p.y), dx = all(q.x - p.x), dy = all(q.y - p.y);
    Four hits = all(0.0);
    for (std::size_t i = 0; i < block; i += wide) {
        const std::size_t n = b * block + i;
        const Four tx = at(w.ax, n) - px, ty = at(w.ay, n) - py;
        const Four ux = at(w.ux, n), uy = at(w.uy, n);
        const Four over = dx * uy - dy * ux;
        const Four sign = over < all(0.0) ? all(-1.0) : all(1.0);
        const Four across = over * sign;
        const Four way = (tx * uy - ty * ux) * sign;
        const Four along = (tx * dy - ty * dx) * sign;
        hits += (across > all(0.0)) & (along >= all(0.0)) & (along <= at(w.length, n) * across) &
                        (way > all(end) * across) & (way < all(1.0 - end) * across)
                    ? all(1.0)
                    : all(0.0);
    }
    return any(hits);
}

BADGER_WIDE bool distances2(const PointLanes &points, std::size_t b, Vec p, double limit2,
                            Keys &out)
{
    const Four px = all(p.x), py = all(p.y);
    Four hits = all(0.0);
    for (std::size_t i = 0; i < block; i += wide) {
        const Four dx = at(points.x, b * block + i) - px, dy = at(points.y, b * block + i) - py;
        const Four d2 = dx * dx + dy * dy;
        hits += d2 < all(limit2) ? all(1.0) : all(0.0);
        put(out, i, d2);
    }
    return any(hits);
}

} // namespace badger::arena
