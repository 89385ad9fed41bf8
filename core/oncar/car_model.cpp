// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/oncar/make_model.h"
#include "core/oncar/make_wheels.h"

#include "core/base/angle.h"
#include "core/base/exact_math.h"
#include "core/kit/balance.h"
#include "core/pins/planner.h"
#include "core/sense/light.h"
#include "core/sense/reflectance.h"
#include "core/tune/fits_of.h"
#include "core/tune/looks.h"

#include <algorithm>
#include <limits>

namespace badger::oncar
{

using arena::Vec;
using parts::Kind;
using parts::Role;

int CarModel::pin(std::string_view name) const
{
    const auto it =
        std::find_if(pins.begin(), pins.end(), [&](const Pin &p) { return p.name == name; });
    return it == pins.end() ? none : static_cast<int>(it - pins.begin());
}

namespace
{

/// Choices of ours, where neither catalogue nor record says it: a usual infrared pair and its
/// amplifier, as the stand-in's.
constexpr sense::ReflectanceFigures pair{0.2635, 0.009, 12.0, 190.0, 6.0};
constexpr double usualAmbient = 0.1;
constexpr int roundness =
    24; ///< corners on a disc's rim: sides lie at most 1 % of its radius within

class Modelling
{
public:
    Modelling(const nets::Nets &nets, const circuit::CarNetwork &network,
              const motion::MotionTable &motion, const Pieces<tune::Record> &records,
              const machine::CarFacts &facts)
        : m_nets(nets), m_network(network), m_motion(motion), m_records(records), m_facts(facts),
          m_car(nets.car())
    {
    }

    Result<CarModel> model(const LooksLevel &looksLevel)
    {
        m_rest = m_network.solve(
            {kit::Charge::Nominal, circuit::Moving::Idle, circuit::Figures::Typical, true, false},
            std::vector<circuit::Level>(m_network.outputs().size(), circuit::Level::Low));
        outline();
        if (auto ok = sensors(looksLevel); !ok)
            return tl::unexpected(ok.error());
        boardPins();
        auto wheels = wheelsOf(m_nets, m_motion, m_facts, m_to);
        if (!wheels)
            return tl::unexpected(wheels.error());
        m_to.wheels = std::move(*wheels);
        m_to.charge = chargeOf(m_car, m_network, m_rest);
        return std::move(m_to);
    }

private:
    void outline()
    {
        const auto &g = m_car->geometry;
        auto &o = m_to.outline;
        m_to.axleToNose_m = g.axleToNose_m;
        const double front = g.axleToNose_m;
        const double rear = front - g.length_m;
        const double half = g.width_m / 2.0;
        o.middle = {(front + rear) / 2.0, 0.0};
        if (g.deck == kit::DeckShape::Disc || g.deck == kit::DeckShape::TwoDiscs) {
            // The hull of one disc or two along the car; its ends are the car's.
            const double r =
                std::min(g.discRadius_m > 0.0 ? g.discRadius_m : half, g.length_m / 2.0);
            for (int i = 0; i < roundness; ++i) {
                const double angle = 2.0 * exact::pi * i / roundness;
                const auto at = exact::sineCosine(angle);
                const bool ahead = 4 * i < roundness || 4 * i > 3 * roundness;
                o.corners.push_back({(ahead ? front - r : rear + r) + r * at.cosine,
                                     std::clamp(r * at.sine, -half, half)});
            }
        } else {
            o.corners = {{rear, -half}, {front, -half}, {front, half}, {rear, half}};
        }
        for (const Vec c : o.corners) {
            o.radius = std::max(o.radius, arena::length(c - o.middle));
            o.reach = std::max(o.reach, arena::length(c));
        }
        m_to.wheelsAt = {{0.0, g.track_m / 2.0}, {0.0, -g.track_m / 2.0}};
        if (const auto *support = m_car.first(Kind::Support))
            if (const auto place = kit::placeOf(m_car, *support)) {
                m_to.wheelsAt.push_back({place->x_m, place->y_m});
                m_to.caster = {typical(*m_car.part(*support), "trail_m", 0.0), place->x_m};
            }
    }

    bool isPowered(const kit::Instance &fitted, const parts::Part &part) const
    {
        if (!m_rest.solved)
            return true; // the wiring's findings say what is wrong
        for (const auto &t : part.terminals)
            if (t.role == Role::SupplyIn) {
                const auto index = indexOf(fitted.id + "." + t.name);
                const auto volts = m_network.ownVolts_V(m_rest, index);
                const double least = t.window ? 0.8 * t.window->low_V : circuit::alive_V;
                if (!volts || *volts < least || !m_network.hasGround(m_rest, index))
                    return false;
            }
        return true;
    }

    size_t indexOf(const std::string &terminal) const
    {
        const auto *m = m_nets.member(terminal);
        return m ? static_cast<size_t>(m - m_nets.all().data()) : circuit::noMember;
    }

    /// The newest record of a part that is still fitted: what was measured on another is no truth
    /// of this one.
    const tune::Record *measuredOn(tune::What what, const std::string &of,
                                   const kit::Fitted &f) const
    {
        const auto *record = newest(m_records, what, of);
        const bool same =
            record && (record->basis.part.empty() || record->basis.part == f.part->id);
        return same ? record : nullptr;
    }

    int servoOf(const kit::Instance &fitted)
    {
        const auto *carrier = m_car.find(fitted.carriedBy);
        if (carrier == nullptr || carrier->part->kind != Kind::Servo)
            return none;
        for (size_t i = 0; i < m_to.servos.size(); ++i)
            if (m_to.servos[i].instance == carrier->instance->id)
                return static_cast<int>(i);
        Servo s;
        s.instance = carrier->instance->id;
        s.sPerDegree = typical(*carrier->part, "s_per_60deg", 0.12) / 60.0;
        if (const auto *record = measuredOn(tune::What::Horn, s.instance, *carrier)) {
            if (const auto fit = tune::dwellOf(*record))
                s.sPerDegree = fit->for60_s / 60.0;
            if (record->chosen)
                s.horn_deg = -*record->chosen;
        } else if (carrier->instance->hornError_rad) {
            s.horn_deg = -*carrier->instance->hornError_rad / degree;
        }
        m_to.servos.push_back(s);
        return static_cast<int>(m_to.servos.size()) - 1;
    }

    Result<void> sensors(const LooksLevel &looksLevel)
    {
        for (const auto &f : m_car.fitted()) {
            const bool eye = f.part->kind == Kind::Infrared || f.part->kind == Kind::Strip ||
                             f.part->kind == Kind::Reflectance || f.part->kind == Kind::Light;
            if (f.part->kind == Kind::Button)
                button(f);
            if (f.part->kind != Kind::Ranger && !eye)
                continue;
            const auto place = kit::placeOf(m_car, *f.instance);
            if (!place)
                return failAt(Error::Kind::Missing, m_car->name, f.instance->id,
                              say("nothing says where it sits"), say("say where it sits, at Kit"));
            if (eye)
                eyes(f, *place, looksLevel);
            else
                ranger(f, *place);
        }
        return {};
    }

    void ranger(const kit::Fitted &f, const kit::Place &place)
    {
        Ranger r;
        r.instance = f.instance->id;
        r.at = {place.x_m, place.y_m};
        r.yaw_rad = place.yaw_rad;
        r.servo = servoOf(*f.instance);
        r.halfAngle_rad = std::clamp(typical(*f.part, "half_angle_rad", 0.1309), 0.02, 0.6);
        const double reach_m = std::clamp(typical(*f.part, "range_m", 4.0), 0.1, 20.0);
        r.hearing = sense::Hearing(reach_m, r.halfAngle_rad);
        r.figures.cosHalfAngle = exact::sineCosine(r.halfAngle_rad).cosine;
        r.figures.deadZone_m = typical(*f.part, "dead_zone_m", 0.03);
        r.figures.range_m = 2.0 * reach_m; // what is heard says it, not this
        r.figures.noEchoHold_s = typical(*f.part, "no_echo_hold_s", 0.038);
        r.figures.error_m = m_car->calibrations.ruler ? m_car->calibrations.ruler->error_m
                                                      : typical(*f.part, "error_m", 0.0);
        r.figures.noise_m = typical(*f.part, "noise_m", 0.0);
        r.figures.lostEchoShare = typical(*f.part, "lost_echo_share", 0.0);
        r.figures.wildShare = typical(*f.part, "wild_share", 0.0);
        if (const auto *mount = kit::mountOf(m_car.car(), *f.instance)) {
            r.height_m = mount->height_m;
            r.below_rad = r.halfAngle_rad - mount->tilt_rad;
        }
        r.powered = isPowered(*f.instance, *f.part);
        m_to.rangers.push_back(std::move(r));
    }

    void eyes(const kit::Fitted &f, const kit::Place &place, const LooksLevel &looksLevel)
    {
        const auto *pitch = f.part->figure("pitch_m");
        int n = 0;
        for (const auto &t : f.part->terminals) {
            if (t.role != Role::DigitalOut && t.role != Role::AnalogueOut)
                continue;
            Eye e;
            e.instance = f.instance->id;
            e.terminal = t.name;
            const double across = pitch ? (1.5 - n) * pitch->typical : 0.0;
            const auto yaw = exact::sineCosine(place.yaw_rad);
            e.at = {place.x_m - across * yaw.sine, place.y_m + across * yaw.cosine};
            e.yaw_rad = place.yaw_rad;
            e.spot_m = std::max(0.001, typical(*f.part, "spot_m", 0.01));
            e.range_m = typical(*f.part, "range_m", 0.1);
            e.powered = isPowered(*f.instance, *f.part);
            kind(e, f, looksLevel);
            m_to.eyes.push_back(std::move(e));
            ++n;
        }
    }

    void kind(Eye &e, const kit::Fitted &f, const LooksLevel &looksLevel)
    {
        const auto *mount = kit::mountOf(m_car.car(), *f.instance);
        const double height_m = mount ? mount->height_m : 0.01;
        const bool strip = f.part->kind == Kind::Strip;
        e.kind = f.part->kind == Kind::Light         ? Eye::Kind::Light
                 : f.part->kind == Kind::Reflectance ? Eye::Kind::Analogue
                                                     : Eye::Kind::Digital;
        e.highOnLight = f.part->sense.empty() || f.part->sense.ends_with("-high");
        if (const auto *record = measuredOn(tune::What::Trimmer,
                                            strip ? e.instance + "." + e.terminal : e.instance, f))
            if (const auto measured = tune::trimmerOf(*record); measured && measured->steady)
                e.highOnLight = measured->lightLevel;
        e.level = looksLevel(e.instance);
        e.light_counts = sense::reflectedCounts(pair, floor::lightAlbedo, height_m, usualAmbient);
        e.dark_counts = sense::reflectedCounts(pair, floor::darkAlbedo, height_m, usualAmbient);
        e.noise_counts = pair.noise_counts;
        const auto *surfaces = measuredOn(tune::What::Surfaces, e.instance, f);
        if (surfaces)
            if (const auto fit = tune::surfacesOf(*surfaces)) {
                e.light_counts = fit->light.mean;
                e.dark_counts = fit->dark.mean;
                e.noise_counts = (fit->light.deviation + fit->dark.deviation) / 2.0;
            }
        if (e.level)
            distances(e, f);
    }

    void distances(Eye &e, const kit::Fitted &f)
    {
        const auto *record = measuredOn(tune::What::Reflectance, e.instance, f);
        std::optional<tune::ReflectanceFit> fit;
        if (record)
            if (auto made = tune::reflectanceOf(*record))
                fit = std::move(*made);
        for (int counts = 0; counts <= sense::mostCounts; ++counts) {
            double d_m = std::numeric_limits<double>::quiet_NaN();
            if (fit) {
                const auto d = tune::distanceOf(*fit, counts);
                if (d.kind != tune::Distance::Kind::NoReading)
                    d_m = d.m;
            } else {
                const double over = counts - pair.dark_counts - usualAmbient * pair.ambient_counts;
                if (over > 0.0)
                    d_m = std::sqrt(pair.gain_countsM2 * floor::lightAlbedo / over) - pair.offset_m;
            }
            e.distance_m.push_back(d_m);
        }
    }

    void button(const kit::Fitted &f)
    {
        for (const auto &t : f.part->terminals)
            if (t.role == Role::DigitalOut) {
                Eye e;
                e.kind = Eye::Kind::Button;
                e.instance = f.instance->id;
                e.terminal = t.name;
                e.highOnLight = !f.part->sense.ends_with("-low");
                e.powered = isPowered(*f.instance, *f.part);
                m_to.eyes.push_back(std::move(e));
            }
    }

    /// The pins of the board, and the one sensor or servo on each one's line.
    void boardPins()
    {
        const auto *board = m_car.first(Kind::Board);
        m_to.board = board != nullptr;
        if (!board)
            return;
        const auto &part = *m_car.part(*board);
        const auto libraries = pins::librariesOf(m_nets);
        for (const auto &t : part.terminals) {
            if (t.role != Role::Pin && t.role != Role::MotorOut)
                continue;
            Pin p;
            p.name = t.name;
            if (t.role == Role::Pin && !pins::takesSpeed(part, t, libraries))
                p.by = pins::SpeedBy::Steps;
            const auto own = board->id + "." + t.name;
            if (m_nets.pulledUp(own))
                p.rest = 1;
            else if (m_nets.pulledDown(own) || m_nets.isGround(m_nets.of(own)))
                p.rest = 0;
            m_to.pins.push_back(p);
        }
        const auto eachPin = [&](const std::string &terminal, auto &&set) {
            for (const auto &pin : m_nets.onLine(terminal, Role::Pin))
                if (const auto s = kit::splitTerminal(pin); s.instance == board->id)
                    if (const int i = m_to.pin(s.terminal); i != none)
                        set(m_to.pins[static_cast<size_t>(i)]);
        };
        for (size_t r = 0; r < m_to.rangers.size(); ++r) {
            const auto &id = m_to.rangers[r].instance;
            bool trigger = false;
            for (const auto &t : m_car.find(id)->part->terminals)
                trigger |= t.role == Role::Trigger;
            for (const auto &t : m_car.find(id)->part->terminals) {
                const auto name = id + "." + t.name;
                if (t.role == Role::Trigger || (t.role == Role::Echo && !trigger))
                    eachPin(name, [&](Pin &p) { p.triggers = static_cast<int>(r); });
                if (t.role == Role::Echo)
                    eachPin(name, [&](Pin &p) { p.echoes = static_cast<int>(r); });
            }
        }
        for (size_t e = 0; e < m_to.eyes.size(); ++e)
            eachPin(m_to.eyes[e].instance + "." + m_to.eyes[e].terminal,
                    [&](Pin &p) { p.reads = static_cast<int>(e); });
        const auto signal = [&](const std::string &id, auto &&set) {
            for (const auto &t : m_car.find(id)->part->terminals)
                if (t.role == Role::Signal)
                    eachPin(id + "." + t.name, set);
        };
        for (size_t s = 0; s < m_to.servos.size(); ++s)
            signal(m_to.servos[s].instance, [&](Pin &p) { p.turns = static_cast<int>(s); });
        for (const auto &f : m_car.fitted())
            if (f.part->kind == Kind::DriveServo && f.instance->side != kit::Side::None)
                signal(f.instance->id,
                       [&](Pin &p) { p.pulses = f.instance->side == kit::Side::Left ? 0 : 1; });
    }

    const nets::Nets &m_nets;
    const circuit::CarNetwork &m_network;
    const motion::MotionTable &m_motion;
    const Pieces<tune::Record> &m_records;
    const machine::CarFacts &m_facts;
    const kit::Assembly &m_car;
    circuit::Answer m_rest;
    CarModel m_to;
};

} // namespace

Result<CarModel> makeModel(const nets::Nets &nets, const circuit::CarNetwork &network,
                           const motion::MotionTable &motion, const Pieces<tune::Record> &records,
                           const machine::CarFacts &facts, const LooksLevel &looksLevel)
{
    return Modelling(nets, network, motion, records, facts).model(looksLevel);
}

} // namespace badger::oncar
