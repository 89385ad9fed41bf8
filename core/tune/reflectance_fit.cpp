// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/reflectance_fit.h"

#include "core/tune/stats.h"

#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <set>

namespace badger::tune
{

using units::fixed;
using units::number;
using units::Unit;

namespace
{

constexpr double farthestSurface_m = 2.0;
constexpr double simplerUnless = 0.8;
/// What the converter's rounding alone does at most: a law within it cannot be bettered.
constexpr double rounding_counts = 0.5;
constexpr int mostSteps = 200;

Say lawPlace()
{
    return say("reflectance against distance");
}

struct Points {
    Eigen::ArrayXd d, r;
};

/// Figures of a model as the search moves them: ln A, and c and p, or s. Each stays where the model
/// means something.
using Figures = Eigen::Matrix<double, Eigen::Dynamic, 1, Eigen::ColMajor, 3, 1>;
using Slopes =
    Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor, Eigen::Dynamic, 3>;
/// Of the figures with each other. Its size is bounded and its products are taken term by term: the
/// library's for great matrices take the compiler longer than all the rest of this file.
using Normal = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor, 3, 3>;

Eigen::ArrayXd modelled(ReflectanceModel model, const Figures &f, const Eigen::ArrayXd &d)
{
    switch (model) {
    case ReflectanceModel::InverseSquare:
        return std::exp(f[0]) / (d + f[1]).square();
    case ReflectanceModel::Power:
        return std::exp(f[0]) / (d + f[1]).pow(f[2]);
    case ReflectanceModel::Exponential:
        break;
    }
    return std::exp(f[0]) * (-d / f[1]).exp();
}

Slopes slopes(ReflectanceModel model, const Figures &f, const Eigen::ArrayXd &d)
{
    const Eigen::ArrayXd value = modelled(model, f, d);
    Slopes j(d.size(), f.size());
    j.col(0) = value.matrix();
    switch (model) {
    case ReflectanceModel::InverseSquare:
        j.col(1) = (-2.0 * value / (d + f[1])).matrix();
        break;
    case ReflectanceModel::Power:
        j.col(1) = (-f[2] * value / (d + f[1])).matrix();
        j.col(2) = (-value * (d + f[1]).log()).matrix();
        break;
    case ReflectanceModel::Exponential:
        j.col(1) = (value * d / (f[1] * f[1])).matrix();
        break;
    }
    return j;
}

Normal normalOf(const Slopes &j)
{
    return j.transpose().lazyProduct(j);
}

Normal inverse(const Normal &normal)
{
    return normal.ldlt().solve(Normal::Identity(normal.rows(), normal.cols()));
}

bool means(ReflectanceModel model, const Figures &f, const Points &at)
{
    if (!f.allFinite() || std::abs(f[0]) > 60.0)
        return false;
    if (model == ReflectanceModel::Exponential)
        return f[1] > 1e-5 && f[1] < 100.0;
    if (at.d.minCoeff() + f[1] < 1e-5 || f[1] > 1.0)
        return false;
    return model == ReflectanceModel::InverseSquare || (f[2] > 0.05 && f[2] < 12.0);
}

/// Where the search begins: a straight line through logarithms.
Figures begin(ReflectanceModel model, const Points &points)
{
    const bool exponential = model == ReflectanceModel::Exponential;
    const double c = 0.005;
    const Eigen::ArrayXd x = exponential ? points.d : (points.d + c).log().eval();
    const Eigen::ArrayXd y = points.r.max(0.5).log();
    const auto n = static_cast<std::size_t>(x.size());
    const auto line = straightLine({x.data(), n}, {y.data(), n});
    if (exponential)
        return Eigen::Vector2d(line.offset, -1.0 / std::min(line.slope, -1e-2));
    if (model == ReflectanceModel::Power)
        return Eigen::Vector3d(line.offset, c, std::clamp(-line.slope, 0.5, 6.0));
    // The amplitude that fits best at that offset.
    const Eigen::ArrayXd shape = (points.d + c).square().inverse();
    const double amplitude = (shape * points.r).sum() / shape.square().sum();
    return Eigen::Vector2d(std::log(std::max(amplitude, 1e-12)), c);
}

/// Least squares by steps between Newton's and the steepest way down (Levenberg and Marquardt).
std::optional<Figures> search(ReflectanceModel model, const Points &points, Figures f)
{
    if (!means(model, f, points))
        return std::nullopt;
    double damping = 1e-3;
    const auto errorOf = [&](const Figures &g) {
        return (modelled(model, g, points.d) - points.r).square().sum();
    };
    double error = errorOf(f);
    for (int i = 0; i < mostSteps && damping < 1e12; ++i) {
        const Slopes j = slopes(model, f, points.d);
        const Eigen::VectorXd left = (points.r - modelled(model, f, points.d)).matrix();
        Normal normal = normalOf(j);
        const Figures diagonal = normal.diagonal();
        normal.diagonal() += damping * diagonal;
        const Figures step = normal.ldlt().solve(Figures(j.transpose().lazyProduct(left)));
        const Figures next = f + step;
        const double nextError = means(model, next, points) ? errorOf(next) : error + 1.0;
        if (!(nextError < error)) {
            damping *= 10.0;
            continue;
        }
        const bool settled = error - nextError <= 1e-14 * error;
        f = next;
        error = nextError;
        damping = std::max(damping / 10.0, 1e-12);
        if (settled)
            break;
    }
    return f;
}

Points without(const Points &all, Eigen::Index left, Eigen::Index count)
{
    const auto n = all.d.size();
    Points some{Eigen::ArrayXd(n - count), Eigen::ArrayXd(n - count)};
    some.d << all.d.head(left), all.d.tail(n - left - count);
    some.r << all.r.head(left), all.r.tail(n - left - count);
    return some;
}

/// Each reading left out in turn; of more than forty, forty groups in turn. The search begins at
/// the fit of all.
std::optional<double> heldOut(ReflectanceModel model, const Points &points, const Figures &ofAll)
{
    const auto n = points.d.size();
    const Eigen::Index groups = std::min<Eigen::Index>(n, 40);
    double squares = 0.0;
    for (Eigen::Index g = 0; g < groups; ++g) {
        const Eigen::Index from = g * n / groups;
        const Eigen::Index count = (g + 1) * n / groups - from;
        const auto f = search(model, without(points, from, count), ofAll);
        if (!f)
            return std::nullopt;
        squares +=
            (modelled(model, *f, points.d.segment(from, count)) - points.r.segment(from, count))
                .square()
                .sum();
    }
    return std::sqrt(squares / static_cast<double>(n));
}

std::optional<FittedModel> fitted(ReflectanceModel model, const Points &points)
{
    const auto f = search(model, points, begin(model, points));
    const auto out = f ? heldOut(model, points, *f) : std::nullopt;
    if (!out)
        return std::nullopt;
    FittedModel m;
    m.model = model;
    m.amplitude = std::exp((*f)[0]);
    m.heldOut_counts = *out;
    const bool exponential = model == ReflectanceModel::Exponential;
    if (exponential) {
        m.length_m = (*f)[1];
        m.exponent = 0.0;
    } else {
        m.offset_m = (*f)[1];
        m.exponent = model == ReflectanceModel::Power ? (*f)[2] : 2.0;
    }
    const auto free = points.d.size() - f->size();
    if (exponential || free <= 0)
        return m;
    const double variance =
        (modelled(model, *f, points.d) - points.r).square().sum() / static_cast<double>(free);
    const Slopes j = slopes(model, *f, points.d);
    const Normal spread = inverse(normalOf(j)) * variance;
    m.offsetError_m = std::sqrt(spread(1, 1));
    if (model == ReflectanceModel::Power)
        m.exponentError = std::sqrt(spread(2, 2));
    return m;
}

double distanceBy(const FittedModel &m, double counts)
{
    if (m.model == ReflectanceModel::Exponential)
        return m.length_m * std::log(m.amplitude / counts);
    return std::pow(m.amplitude / counts, 1.0 / m.exponent) - m.offset_m;
}

/// Many readings as the means of as many stretches of equally many readings, nearest first: they
/// keep their scatter's weight, and a stretch is far shorter than the law bends.
Points gathered(const Points &all)
{
    constexpr Eigen::Index most = 200;
    const auto n = all.d.size();
    if (n <= most)
        return all;
    std::vector<Eigen::Index> order(static_cast<size_t>(n));
    std::iota(order.begin(), order.end(), 0);
    std::stable_sort(order.begin(), order.end(),
                     [&](Eigen::Index a, Eigen::Index b) { return all.d[a] < all.d[b]; });
    Points means{Eigen::ArrayXd::Zero(most), Eigen::ArrayXd::Zero(most)};
    for (Eigen::Index g = 0; g < most; ++g) {
        const Eigen::Index from = g * n / most;
        const Eigen::Index to = (g + 1) * n / most;
        for (Eigen::Index i = from; i < to; ++i) {
            means.d[g] += all.d[order[static_cast<size_t>(i)]] / static_cast<double>(to - from);
            means.r[g] += all.r[order[static_cast<size_t>(i)]] / static_cast<double>(to - from);
        }
    }
    return means;
}

Result<Points> usable(const std::vector<ReflectancePair> &pairs, ReflectanceFit &fit)
{
    std::vector<double> d;
    std::vector<double> r;
    for (size_t i = 0; i < pairs.size(); ++i) {
        const auto &p = pairs[i];
        if (!(p.distance_m >= 0.0 && p.distance_m <= farthestSurface_m) ||
            !(p.counts >= 0.0 && p.counts <= mostCounts))
            return fail(Error::Kind::OutOfRange, lawPlace(),
                        say("pair {}: {} and {} counts are no reading of such a sensor",
                            static_cast<long>(i + 1), fixed(p.distance_m, Unit::Centimetre, 1),
                            number(p.counts, 1)),
                        say("write distances up to {} and counts as the board gives them",
                            units::quantity(farthestSurface_m, Unit::Metre)));
        if (p.counts >= fit.fullScale) {
            fit.leftOut.push_back(i);
            fit.saturatedAt_m = std::max(fit.saturatedAt_m.value_or(0.0), p.distance_m);
        } else if (p.counts - fit.dark_counts <= 0.0) {
            fit.leftOut.push_back(i);
        } else {
            d.push_back(p.distance_m);
            r.push_back(p.counts - fit.dark_counts);
        }
    }
    if (d.size() < 4 || std::set<double>(d.begin(), d.end()).size() < 3)
        return fail(
            Error::Kind::Missing, lawPlace(),
            say("{} usable {0|reading|readings} at {} {1|distance|distances}; four at three "
                "distances are needed",
                static_cast<long>(d.size()),
                static_cast<long>(std::set<double>(d.begin(), d.end()).size())),
            say("saturated readings and those without light do not count: measure between "
                "them"));
    const auto n = static_cast<Eigen::Index>(d.size());
    return Points{Eigen::Map<Eigen::ArrayXd>(d.data(), n), Eigen::Map<Eigen::ArrayXd>(r.data(), n)};
}

} // namespace

const char *name(ReflectanceModel model)
{
    constexpr std::array<const char *, reflectanceModelCount> names = {"inverse-square", "power",
                                                                       "exponential"};
    return names[static_cast<size_t>(model)];
}

Result<ReflectanceFit> fitReflectance(const std::vector<ReflectancePair> &pairs, double dark_counts,
                                      double fullScale)
{
    ReflectanceFit fit;
    fit.dark_counts = dark_counts;
    fit.fullScale = fullScale;
    const auto points = usable(pairs, fit);
    if (!points)
        return tl::unexpected(points.error());
    const auto &d = points->d;
    const auto &r = points->r;
    const double growth = ((d - d.mean()) * (r - r.mean())).sum();
    if (growth >= 0.0)
        return fail(Error::Kind::Malformed, lawPlace(),
                    say("readings do not fall while the distance grows"),
                    say("look whether the columns are exchanged; a larger reading means nearer"));
    const auto some = gathered(*points);
    for (int i = 0; i < reflectanceModelCount; ++i)
        if (auto m = fitted(static_cast<ReflectanceModel>(i), some))
            fit.compared.push_back(*m);
    if (fit.compared.empty())
        return fail(Error::Kind::Malformed, lawPlace(), say("no law fits these readings"),
                    say("measure again, one surface square before the sensor"));
    const auto weight = [](const FittedModel &m) {
        if (m.model != ReflectanceModel::InverseSquare)
            return m.heldOut_counts;
        return m.heldOut_counts <= rounding_counts ? 0.0 : simplerUnless * m.heldOut_counts;
    };
    std::stable_sort(
        fit.compared.begin(), fit.compared.end(),
        [&](const FittedModel &a, const FittedModel &b) { return weight(a) < weight(b); });
    fit.best = fit.compared.front();
    fit.used = static_cast<int>(d.size());
    fit.validFrom_m = d.minCoeff();
    fit.validTo_m = d.maxCoeff();
    if (fit.best.model != ReflectanceModel::Exponential)
        fit.k_m = std::pow(fit.best.amplitude, 1.0 / fit.best.exponent);
    if (fit.best.model == ReflectanceModel::InverseSquare) {
        const Figures f = Eigen::Vector2d(std::log(fit.best.amplitude), fit.best.offset_m);
        const Slopes j = slopes(fit.best.model, f, some.d);
        const double variance = (modelled(fit.best.model, f, some.d) - some.r).square().sum() /
                                static_cast<double>(some.d.size() - 2);
        fit.kError_m = fit.k_m / 2.0 * std::sqrt(inverse(normalOf(j))(0, 0) * variance);
    }
    for (Eigen::Index i = 0; i < d.size(); ++i)
        fit.maxResidual_m =
            std::max(fit.maxResidual_m, std::abs(distanceBy(fit.best, r[i]) - d[i]));
    const double last = countsAt(fit.best, fit.validTo_m);
    fit.oneCount_m = last > 1.0
                         ? distanceBy(fit.best, last - 0.5) - distanceBy(fit.best, last + 0.5)
                         : fit.validTo_m;
    return fit;
}

double countsAt(const FittedModel &m, double distance_m)
{
    if (m.model == ReflectanceModel::Exponential)
        return m.amplitude * std::exp(-distance_m / m.length_m);
    return m.amplitude / std::pow(distance_m + m.offset_m, m.exponent);
}

Distance distanceOf(const ReflectanceFit &fit, double counts)
{
    if (counts - fit.dark_counts <= 0.0 || !std::isfinite(counts))
        return {Distance::Kind::NoReading, 0.0};
    if (counts >= fit.fullScale)
        return {Distance::Kind::AtMost,
                std::max({0.0, fit.saturatedAt_m.value_or(0.0),
                          distanceBy(fit.best, fit.fullScale - fit.dark_counts)})};
    const double m = distanceBy(fit.best, counts - fit.dark_counts);
    const bool inside = m >= fit.validFrom_m && m <= fit.validTo_m;
    return {inside ? Distance::Kind::Inside : Distance::Kind::Carried, std::max(m, 0.0)};
}

double seenAt_m(const ReflectanceFit &fit, double distance_m, double albedoRatio)
{
    if (fit.best.model == ReflectanceModel::Exponential)
        return distance_m - fit.best.length_m * std::log(albedoRatio);
    return (distance_m + fit.best.offset_m) * std::pow(albedoRatio, -1.0 / fit.best.exponent) -
           fit.best.offset_m;
}

Derivation whyReflectance(const ReflectanceFit &fit)
{
    const auto cm = [](double m) { return fixed(m, Unit::Centimetre, 2); };
    Derivation d;
    d.title = say("distance of a reading");
    const auto &b = fit.best;
    if (b.model == ReflectanceModel::InverseSquare)
        d.result = say("d = {} / √R − {}", cm(fit.k_m), cm(b.offset_m));
    else if (b.model == ReflectanceModel::Power)
        d.result =
            say("d = {} / R^(1 / {}) − {}", cm(fit.k_m), number(b.exponent, 3), cm(b.offset_m));
    else
        d.result = say("d = {} · ln({} / R)", cm(b.length_m), number(b.amplitude, 0));
    for (const auto &m : fit.compared)
        d.steps.push_back({m.model == ReflectanceModel::InverseSquare ? say("inverse square")
                           : m.model == ReflectanceModel::Power       ? say("free power")
                                                                      : say("exponential"),
                           say("± {} counts", number(m.heldOut_counts, 2)),
                           say("error of readings that it was not shown"),
                           {}});
    d.steps.push_back(
        {say("one count at the far end"), cm(fit.oneCount_m), say("at {}", cm(fit.validTo_m)), {}});
    return d;
}

} // namespace badger::tune
