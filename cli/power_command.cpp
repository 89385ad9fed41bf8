// SPDX-License-Identifier: GPL-3.0-or-later
// The power tree of a car, as text and as JSON.
#include "cli/workshop_commands.h"
#include "cli/workshop_pick.h"
#include "core/power/check.h"
#include "core/units/quantity.h"

#include <fmt/format.h>

namespace badger::cli
{

using kit::Charge;
using power::Case;
using power::Load;
using units::fixed;
using units::quantity;
using units::Unit;

namespace
{

constexpr std::array charges = {std::pair{Charge::Fresh, "fresh"},
                                std::pair{Charge::Nominal, "nominal"},
                                std::pair{Charge::NearEmpty, "near_empty"}};
constexpr std::array loads = {std::pair{Load::Idle, "idle"}, std::pair{Load::Running, "running"},
                              std::pair{Load::Stalled, "stalled"}};

/// volts_V by charge and load, amps_A by load, heat_W by load at nominal charge, for one case.
Json valuesJson(const power::Tree &tree, int node, Case figures)
{
    Json volts = Json::object();
    Json amps = Json::object();
    Json heat = Json::object();
    Json atMost = false;
    Json atLeast = false;
    for (const auto &[charge, chargeName] : charges)
        for (const auto &[load, loadName] : loads) {
            const auto &v = tree.at(node, {charge, load, figures});
            volts[chargeName][loadName] = v.voltsKnown ? Json(v.volts_V) : Json(nullptr);
            if (v.atMost)
                atMost = true;
            if (charge != Charge::Nominal)
                continue;
            amps[loadName] = v.atLeast && v.amps_A <= 0.0 ? Json(nullptr) : Json(v.amps_A);
            heat[loadName] = v.heat_W ? Json(*v.heat_W) : Json(nullptr);
            if (v.atLeast)
                atLeast = true;
        }
    return {{"volts_V", volts},
            {"volts_are_at_most", atMost},
            {"amps_A", amps},
            {"amps_are_at_least", atLeast},
            {"heat_W", heat}};
}

Json nodesJson(const power::Tree &tree)
{
    auto list = Json::array();
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        Json node = {{"id", n.id}, {"name", n.name}};
        node["parent"] =
            n.parent < 0 ? Json(nullptr) : Json(tree.nodes[static_cast<size_t>(n.parent)].id);
        node["window_V"] =
            n.window ? Json::array({n.window->low_V, n.window->high_V}) : Json(nullptr);
        node["limit_A"] = n.limit_A ? Json(n.limit_A->typical) : Json(nullptr);
        node["typical"] = valuesJson(tree, static_cast<int>(i), Case::Typical);
        node["worst"] = valuesJson(tree, static_cast<int>(i), Case::Worst);
        node["missing"] = n.missing;
        list.push_back(std::move(node));
    }
    return list;
}

Json motorsJson(const power::Report &report)
{
    auto list = Json::array();
    const auto &nominal = report.at(Charge::Nominal);
    for (const auto &m : nominal) {
        Json motor = {
            {"motor", m.motor},
            {"channel", m.channel},
            {"drop_V", m.drop_V},
            {"full_duty_mean_V", m.cap.fullDutyMean_V},
            {"max_duty_count", m.servo ? Json(nullptr) : Json(m.cap.count)},
            {"mean_V_at_max", m.servo ? Json(nullptr) : Json(m.cap.mean_V)},
            {"wheel_rpm", orNull(m.wheel_rpm, 1.0)},
            {"speed_m_s", orNull(m.speedFull_mps, 1.0)},
            {"dead_band_count", m.deadBand_counts < 0 ? Json(nullptr) : Json(m.deadBand_counts)}};
        for (const auto &[charge, chargeName] : charges)
            for (const auto &other : report.at(charge))
                if (other.motor == m.motor)
                    motor["by_charge"][chargeName] = {
                        {"full_duty_mean_V", other.cap.fullDutyMean_V},
                        {"max_duty_count", other.cap.count},
                        {"speed_m_s", orNull(other.speedFull_mps, 1.0)}};
        list.push_back(std::move(motor));
    }
    return list;
}

std::string treeText(const power::Tree &tree)
{
    std::vector<std::vector<Say>> rows = {
        {"nominal cells, typical figures", "idle", "", "running", "", "stalled", "", ""}};
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        std::vector<Say> row = {std::string(static_cast<size_t>(n.depth) * 2, ' ') + n.name};
        for (const auto &[load, loadName] : loads) {
            const auto &v = tree.at(static_cast<int>(i), {Charge::Nominal, load, Case::Typical});
            row.push_back(power::voltsText(v));
            row.push_back(power::ampsText(v));
        }
        const auto &running = tree.at(static_cast<int>(i), power::nominalRunning);
        row.push_back(running.heat_W && *running.heat_W >= 0.005
                          ? quantity(*running.heat_W, Unit::Watt, 2) + " heat running"
                          : "");
        rows.push_back(std::move(row));
    }
    return aligned(rows);
}

std::string whyText(const power::Report &report, const kit::Car &car,
                    const parts::Catalogue &catalogue)
{
    std::string text;
    const auto say = [&](const Derivation &d) { text += derivationText(d); };
    for (const auto &n : report.tree.nodes)
        for (const auto q : {power::Quantity::Volts, power::Quantity::Amps, power::Quantity::Heat})
            say(power::why(report.tree, {car, catalogue}, n.id, q, power::nominalRunning));
    for (const auto &m : report.at(Charge::Nominal)) {
        say(power::whyFullDuty(m, Charge::Nominal));
        say(power::whyCap(m, Charge::Nominal));
        say(power::whySpeed(m, {car, catalogue}));
    }
    if (report.runTime)
        say(report.runTime->why);
    for (const auto &l : report.leds)
        say(power::whyLed(l));
    return text;
}

} // namespace

Result<Answer> power(const std::string &file, const std::string &carName)
{
    const auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto &catalogue = p->opened.catalogue;
    const auto report = badger::power::report({p->car, catalogue});
    const auto findings = badger::power::check({p->car, catalogue}, report).findings;
    Answer a;
    a.text = treeText(report.tree);
    const auto &motors = report.at(Charge::Nominal);
    for (const auto &m : motors)
        a.text +=
            fmt::format("{}: {} at full {}{}{}\n", m.name,
                        quantity(m.cap.fullDutyMean_V, Unit::Volt, 2), m.servo ? "command" : "duty",
                        m.servo ? std::string{} : fmt::format(", {} of 255 at most", m.cap.count),
                        m.speedFull_mps ? ", " + fixed(*m.speedFull_mps, Unit::MetrePerSecond, 2)
                                        : std::string{});
    a.text += report.runTime
                  ? fmt::format("run time {:.1f} h ({:.1f} to {:.1f})\n", report.runTime->typical_h,
                                report.runTime->low_h, report.runTime->high_h)
                  : std::string("run time not known\n");
    for (const auto &m : report.tree.missing)
        a.text += fmt::format("not known: {}\n", m);
    a.text += findingsText(findings);
    a.why = whyText(report, p->car, catalogue);
    Json source = Json::object();
    for (const auto &n : report.tree.nodes)
        if (n.kind == badger::power::NodeKind::Source)
            for (const auto &[charge, chargeName] : charges)
                source[n.id][chargeName] =
                    report.tree.at(report.tree.indexOf(n.id), {charge, Load::Idle, Case::Typical})
                        .own_V;
    a.json = {{"source_V", source},
              {"nodes", nodesJson(report.tree)},
              {"motors", motorsJson(report)},
              {"max_duty_count", motors.empty() || motors.front().servo
                                     ? Json(nullptr)
                                     : Json(motors.front().cap.count)},
              {"run_time_h", report.runTime ? Json(report.runTime->typical_h) : Json(nullptr)},
              {"run_time_low_h", report.runTime ? Json(report.runTime->low_h) : Json(nullptr)},
              {"run_time_high_h", report.runTime ? Json(report.runTime->high_h) : Json(nullptr)},
              {"leds", Json::array()},
              {"missing", report.tree.missing},
              {"findings", findingsJson(findings)}};
    for (const auto &l : report.leds)
        a.json["leds"].push_back({{"id", l.instance},
                                  {"exact_ohm", l.answer.exact_ohm},
                                  {"standard_ohm", l.answer.standard_ohm},
                                  {"real_current_mA", l.answer.real_A * 1000.0},
                                  {"naive_current_mA", l.answer.naive_A * 1000.0}});
    a.hasError = hasError(findings);
    return a;
}

} // namespace badger::cli
