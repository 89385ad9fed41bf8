// SPDX-License-Identifier: GPL-3.0-or-later
// Line sensors over their line.
#include "cli/reading.h"
#include "cli/tune_calculators.h"
#include "cli/units_said.h"
#include "core/tune/line_bench.h"

#include <cmath>
#include <fmt/format.h>

namespace badger::cli
{

using units::Dimension;
using units::fixed;
using units::quantity;
using units::Unit;

namespace
{

units::Quantity mm(double m)
{
    return quantity(m, Unit::Millimetre, 1);
}

Json patternsJson(const std::vector<tune::Pattern> &patterns)
{
    auto list = Json::array();
    for (const auto &p : patterns)
        list.push_back({{"from_mm", p.from_m * 1000.0},
                        {"to_mm", p.to_m * 1000.0},
                        {"bits", p.bits},
                        {"steering", tune::name(p.steer)}});
    return list;
}

std::string patternsText(const std::vector<tune::Pattern> &patterns)
{
    std::vector<std::vector<Say>> rows = {{"to the right by", "sensors", "steering"}};
    for (const auto &p : patterns)
        rows.push_back({say("{} to {}", mm(p.from_m), mm(p.to_m)), p.bits, tune::name(p.steer)});
    return aligned(rows);
}

} // namespace

Result<Answer> oneLine(const tune::Strip &strip)
{
    Answer a;
    const auto l = tune::singleLine(strip);
    if (!l)
        return tl::unexpected(l.error());
    a.text = l->works ? fmt::format("{} of slack to each side, {}\n", mm(l->slack_m),
                                    l->innerPairOn ? "the inner pair on the line"
                                                   : "the line between the inner pair")
                      : std::string("the line is as wide as the strip: it cannot be followed\n");
    if (!l->innerPairOn)
        a.text += "centred and lost both read none: the last turn has to be remembered\n";
    a.text += patternsText(l->patterns);
    a.json = {{"best_inner_width_mm", nullptr},
              {"slack_mm", l->slack_m * 1000.0},
              {"lost_from_mm", l->lostFrom_m * 1000.0},
              {"wrong_line_beyond_mm", nullptr},
              {"works", l->works},
              {"patterns", patternsJson(l->patterns)}};
    a.why = l->innerPairOn ? fmt::format("min(w/2 − a, b − w/2) = {}\n", mm(l->slack_m))
                           : fmt::format("a − w/2 = {} − {} = {}\n", mm(strip.inner_m),
                                         mm(strip.line_m / 2.0), mm(l->slack_m));
    return a;
}

Result<Answer> lane(const LaneOptions &o)
{
    Reading r;
    tune::Strip strip;
    strip.inner_m = r.take(o.inner, Dimension::Length, "--inner");
    strip.outer_m = r.take(o.outer, Dimension::Length, "--outer");
    strip.line_m = r.take(o.line, Dimension::Length, "--line");
    std::optional<double> width;
    if (!o.laneWidth.empty())
        width = r.take(o.laneWidth, Dimension::Length, "--lane-width");
    if (r.error())
        return tl::unexpected(*r.error());
    if (o.single) {
        if (width)
            return fail(Error::Kind::Conflict, "--lane-width",
                        say("one line has no lane beside it"), say("leave one of both out"));
        return oneLine(strip);
    }
    Answer a;
    const auto l = tune::lane(strip, width);
    if (!l)
        return tl::unexpected(l.error());
    a.text = fmt::format(
        "{} of slack to each side{}\n", mm(*l->slack_m),
        width ? "" : fmt::format(" at the best inner width, {}", mm(l->bestInnerWidth_m)));
    if (!l->works)
        a.text += fmt::format("it does not work: the inner width has to lie between {} and {}\n",
                              mm(2.0 * strip.inner_m), mm(2.0 * strip.outer_m));
    if (l->lostFrom_m)
        a.text += fmt::format("from {} to {} aside only the last turn is left to go by\n",
                              mm(*l->lostFrom_m), mm(*l->lostTo_m));
    a.text += fmt::format("beyond {} an inner sensor meets the wrong line: the car turns out\n",
                          mm(l->wrongLineBeyond_m));
    a.text += patternsText(l->patterns);
    const double half = width.value_or(l->bestInnerWidth_m) / 2.0;
    a.why = fmt::format("slack = min(W/2 − a, b − W/2) = min({}, {}) = {}\n"
                        "wrong line: W/2 + a = {}\n",
                        mm(half - strip.inner_m), mm(strip.outer_m - half), mm(*l->slack_m),
                        mm(l->wrongLineBeyond_m));
    if (l->lostFrom_m)
        a.why += fmt::format("lost: W/2 − a + w = {} to W/2 + a = {}\n", mm(*l->lostFrom_m),
                             mm(*l->lostTo_m));
    a.json = {{"best_inner_width_mm", l->bestInnerWidth_m * 1000.0},
              {"slack_mm", *l->slack_m * 1000.0},
              {"lost_from_mm", orNull(l->lostFrom_m, 1000.0)},
              {"wrong_line_beyond_mm", l->wrongLineBeyond_m * 1000.0},
              {"works", l->works},
              {"outer_on_lines_at_centre", l->seesLinesAtCentre},
              {"patterns", patternsJson(l->patterns)}};
    return a;
}

Result<Answer> straddle(const StraddleOptions &o)
{
    Reading r;
    const double line = r.take(o.line, Dimension::Length, "--line");
    const double gap = r.take(o.gap, Dimension::Length, "--gap");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto slack = tune::straddleSlack_m(line, gap);
    if (!slack)
        return tl::unexpected(slack.error());
    Answer a;
    a.text = fmt::format("{} of slack to each side\n", mm(*slack));
    a.why = fmt::format("({} − {}) / 2 = {}\n", mm(gap), mm(line), mm(*slack));
    a.json = {{"slack_mm", *slack * 1000.0}};
    return a;
}

Result<Answer> edge(const EdgeOptions &o)
{
    Reading r;
    tune::Edge e;
    e.ahead_m = r.take(o.ahead, Dimension::Length, "--ahead");
    e.spot_m = r.take(o.spot, Dimension::Length, "--spot");
    e.track_m = r.take(o.track, Dimension::Length, "--track");
    e.speed_mps = r.take(o.speed, Dimension::Speed, "--speed");
    e.lag_s = r.takeIfGiven(o.lag, Dimension::Time, "--lag");
    e.delay_s = r.takeIfGiven(o.delay, Dimension::Time, "--delay");
    e.share = o.share;
    if (r.error())
        return tl::unexpected(*r.error());
    const auto f = tune::edgeFollowing(e);
    if (!f)
        return tl::unexpected(f.error());
    const auto speed = [](double v) { return fixed(v, Unit::MetrePerSecond, 3); };
    const double margin = f->phaseMargin_rad / degree;
    Answer a;
    a.text = fmt::format("{:.1f} degrees of phase margin{}\n", margin,
                         margin < 0.0                     ? ": unstable"
                         : margin < tune::askedMargin_deg ? ": under the 30 that are asked"
                                                          : "");
    a.text += f->topSpeed_mps ? fmt::format("{} is the greatest speed with 30 degrees\n",
                                            speed(*f->topSpeed_mps))
                              : std::string("no speed keeps 30 degrees with this share\n");
    if (std::isfinite(f->lowGainLimit_mps))
        a.text +=
            fmt::format("{} at any share: beyond it none is stable\n", speed(f->lowGainLimit_mps));
    a.text += fmt::format("the tightest bend has a radius of {}\n", mm(f->leastRadius_m));
    a.why =
        fmt::format("K = (2 v / b) × k × 8 / (π d) = {:.2f} 1/(m s)\n"
                    "ζ = (L / 2) × √(K / v) = {:.3f}\n"
                    "margin = atan(L ω / v) − ω × delay − atan(ω × lag) = {:.1f}°\n"
                    "L / (lag + delay) = {:.3f} m/s\nb / (2 k) = {}\n",
                    f->gain_1_ms, f->damping, margin, f->lowGainLimit_mps, mm(f->leastRadius_m));
    a.json = {{"gain", f->gain_1_ms},
              {"damping", f->damping},
              {"phase_margin_deg", margin},
              {"top_speed_m_s", orNull(f->topSpeed_mps, 1.0)},
              {"low_gain_limit_m_s",
               std::isfinite(f->lowGainLimit_mps) ? Json(f->lowGainLimit_mps) : Json(nullptr)},
              {"least_radius_mm", f->leastRadius_m * 1000.0}};
    return a;
}

} // namespace badger::cli
