// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/observe.h"

#include "core/units/quantity.h"
#include "core/wiring/conductors.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace badger::wiring
{

using circuit::Harm;
using circuit::noMember;
using circuit::Strain;
using circuit::What;
using parts::Kind;
using parts::Role;
using units::quantity;
using units::Unit;

namespace
{

units::Quantity inVolts(double v)
{
    return quantity(v, Unit::Volt, 2);
}

/// Milliamperes below one ampere.
Say inAmps(double a)
{
    return std::abs(a) < 1.0 ? quantity(a, Unit::Milliampere, 0) : quantity(a, Unit::Ampere, 1);
}

Evidence evidenceOf(const Strain &s)
{
    using In = Evidence::In;
    return {s.value, s.limit,
            s.stalled  ? In::Stalled
            : s.atRest ? In::Rest
                       : In::Levels,
            circuit::unitOf(s.harm)};
}

class Observer
{
public:
    Observer(const circuit::CarNetwork &net, const circuit::Looked &looked)
        : m_net(net), m_nets(net.nets()), m_car(m_nets.car()), m_all(m_nets.all()),
          m_looked(looked), m_on(net, looked)
    {
    }

    std::vector<Finding> all()
    {
        for (const auto &s : m_looked.strains)
            strain(s);
        windows();
        openMinus();
        openSupplies();
        grounds();
        suppliesSwapped();
        sourcesTogether();
        motorsOnRegulator();
        outputsJoined();
        bypassed();
        passedBy();
        return std::move(m_found);
    }

private:
    const std::string &name(size_t member) const { return m_all[member].name; }
    const std::string &label(size_t member) const { return kit::labelOf(*m_all[member].fitted); }

    struct Words {
        Say what;
        Say why;
        Say mend;
    };
    Finding &add(const char *code, Severity severity, Say where, Words words,
                 const std::vector<size_t> &members)
    {
        Spots places;
        for (const size_t m : members)
            if (m != noMember)
                places.push_back(at::terminal(name(m)));
        m_found.push_back({code, severity, std::move(where), std::move(words.what),
                           std::move(words.why), std::move(words.mend), std::move(places)});
        return m_found.back();
    }

    void strain(const Strain &s)
    {
        const auto before = m_found.size();
        switch (s.harm) {
        case Harm::Shorted:
            shorted(s);
            break;
        case Harm::SourceAmps:
            overloaded(s);
            break;
        case Harm::Charged:
            add("current-into-pack", Severity::Error, name(s.member),
                {say("{} flow back into {}.", inAmps(s.value), label(s.member)),
                 say("Cells that are charged this way heat up, leak or vent; a supply that is fed "
                     "backwards breaks."),
                 say("Look for another source behind {}.", name(s.member))},
                {s.member});
            break;
        case Harm::Backwards:
            backwards(s);
            break;
        case Harm::PinVolts:
            pinVolts(s);
            break;
        case Harm::PinAmps:
        case Harm::OutputAmps:
            outputHeld(s);
            break;
        case Harm::LightAmps:
            add("light-too-bright", Severity::Warning, label(s.member),
                {say("{} flow through {}; it is made for {}.", inAmps(s.value), label(s.member),
                     inAmps(s.limit)),
                 say("The light burns, and the pin or rail that feeds it with it."),
                 say("A resistor belongs in series with it.")},
                {s.member, m_net.groundOf(s.member)});
            break;
        case Harm::LinkAmps:
            linkAmps(s);
            break;
        case Harm::RegulatorAmps:
            rail(s);
            break;
        case Harm::ResistorHeat:
            add("resistor-hot", Severity::Error, label(s.member),
                {say("{} turns {} into heat; it bears {}.", label(s.member),
                     quantity(s.value, Unit::Watt, 2), quantity(s.limit, Unit::Watt, 2)),
                 say("It smokes."), say("Look at what is joined to its ends.")},
                {s.member});
            break;
        case Harm::OverVolts:
        case Harm::UnderVolts:
            break; // those on one conductor are one complaint
        }
        if (m_found.size() > before)
            m_found.back().evidence = evidenceOf(s);
    }

    /// A source whose own volts break down is shorted; one that only sags gives too much.
    void shorted(const Strain &s)
    {
        constexpr double half = 0.5;
        const auto fresh_V = kit::sourceVolts_V(*m_all[s.member].fitted, m_car.catalogue(),
                                                kit::Charge::Fresh, kit::Bound::Typical)
                                 .value_or(0.0);
        const auto minus = m_on.of(*m_all[s.member].fitted, Role::Minus);
        const auto left_V =
            m_net.volts_V(m_looked.rest, s.member).value_or(0.0) -
            (minus == noMember ? 0.0 : m_net.volts_V(m_looked.rest, minus).value_or(0.0));
        if (!s.atRest || left_V > half * fresh_V) {
            overloaded(s);
            return;
        }
        add("supply-to-ground", Severity::Error, name(s.member),
            {say("{} is shorted: about {} flow.", label(s.member), inAmps(s.value)),
             say("Wires glow, cells vent, a fuse blows if there is one."),
             say("Keep the cells out and look at every wire on {}.", name(s.member))},
            {s.member});
    }

    void overloaded(const Strain &s)
    {
        add("source-over-limit", s.stalled ? Severity::Warning : Severity::Error, label(s.member),
            {say("{} is asked for {}{}; it gives {}.", label(s.member), inAmps(s.value),
                 s.stalled ? say(" when all motors stall") : Say(), inAmps(s.limit)),
             say("It sags or switches off, and the board resets."),
             say("Look at what hangs on {}.", name(s.member))},
            {s.member});
    }

    /// One complaint a part.
    void backwards(const Strain &s)
    {
        const auto own = m_net.ownSupplyOf(s.member);
        const auto ground = m_net.groundOf(s.member);
        const auto shown = own == noMember ? s.member : own;
        for (const auto &f : m_found)
            if (f.code == "plug-backwards" && f.places.front() == at::terminal(name(shown)))
                return;
        add("plug-backwards", Severity::Error,
            ground == noMember ? say("{}", name(shown))
                               : say("{} and {}", name(shown), name(ground)),
            {say("{} gets {} over its supply: it is the wrong way round.", label(s.member),
                 inVolts(s.value)),
             say("Supply and ground are exchanged: the part burns at once."),
             say("Look at what is joined to {}.", name(shown))},
            {shown, ground, s.member});
    }

    /// Inputs of one conductor that get too much, or too little, are one complaint.
    void windows()
    {
        std::map<std::pair<Harm, int>, std::vector<const Strain *>> byNode;
        for (const auto &s : m_looked.strains)
            if ((s.harm == Harm::OverVolts || s.harm == Harm::UnderVolts) && !isTurned(s))
                byNode[{s.harm, m_net.nodeOf(s.member)}].push_back(&s);
        for (const auto &[key, all] : byNode) {
            const bool over = key.first == Harm::OverVolts;
            const auto &worst =
                **std::min_element(all.begin(), all.end(), [&](const Strain *a, const Strain *b) {
                    return over ? a->limit < b->limit : a->limit > b->limit;
                });
            std::vector<std::string> names;
            std::vector<size_t> members = {worst.member};
            for (const auto *s : all) {
                names.push_back(name(s->member));
                members.push_back(s->member);
            }
            const auto way = m_on.upstream(worst.member);
            members.insert(members.end(), way.begin(), way.end());
            for (const size_t source : way) // one may stand on another
                if (m_all[source].terminal->role == Role::Plus)
                    members.push_back(m_on.of(*m_all[source].fitted, Role::Minus));
            const auto &t = *m_all[worst.member].terminal;
            const auto takes = t.window ? say("it takes {} to {}", inVolts(t.window->low_V),
                                              inVolts(t.window->high_V))
                                        : say("it takes {}", inVolts(worst.limit));
            const auto which = names.size() == 1 ? takes : say("{}: {}", name(worst.member), takes);
            add("supply-outside-window", Severity::Error, joined(names, " and "),
                over ? Words{say("{0} {1|gets|get} {2} with fresh cells; {3}.",
                                 joined(names, " and "), names.size(), inVolts(worst.value), which),
                             say("Over-voltage burns the part, often at once."),
                             say("Do not join it now. Look at what feeds {}.", names.front())}
                     : Words{say("{0} {1|gets|get} {2} while the car runs; {3}.",
                                 joined(names, " and "), names.size(), inVolts(worst.value), which),
                             say("The part does not start, or resets as soon as the motors do."),
                             say("It needs a higher supply.")},
                members)
                .evidence = evidenceOf(worst);
            if (!over)
                m_found.back().evidence->in = Evidence::In::Running;
        }
    }

    /// What is the wrong way round has too few volts, too; so has what gets none at all.
    bool isTurned(const Strain &s) const
    {
        return s.harm == Harm::UnderVolts &&
               (m_on.starves(s.member) ||
                std::any_of(m_looked.strains.begin(), m_looked.strains.end(), [&](const Strain &o) {
                    return o.harm == Harm::Backwards && o.member == s.member;
                }));
    }

    void pinVolts(const Strain &s)
    {
        for (const auto &f : m_found) // one a conductor
            if (f.code == "signal-over-volts" &&
                m_net.nodeOf(static_cast<size_t>(m_nets.member(f.places.back().name) -
                                                 m_all.data())) == m_net.nodeOf(s.member))
                return;
        const auto from = m_on.raisedBy(s.member);
        if (from == noMember && isOfRail(s))
            return;
        std::vector<std::string> reached;
        for (const auto &other : m_looked.strains)
            if (other.harm == Harm::PinVolts &&
                m_net.nodeOf(other.member) == m_net.nodeOf(s.member))
                reached.push_back(name(other.member));
        double arrives = s.value;
        if (from != noMember && m_all[from].net == m_all[s.member].net)
            if (const auto own = m_net.ownSupplyOf(from); own != noMember)
                arrives = std::max(arrives, m_net.ownVolts_V(m_looked.rest, own).value_or(arrives));
        const auto here = joined(reached, " and ");
        auto way = from == noMember ? std::vector<size_t>{} : ownSupply(from);
        way.insert(way.begin(), from == noMember ? s.member : from);
        way.push_back(s.member);
        add("signal-over-volts", Severity::Error,
            from == noMember ? say("{}", here) : say("{} at {}", name(from), here),
            {s.value < 0.0 ? say("{} at {}, less than its ground.", inVolts(s.value), here)
             : from == noMember
                 ? say("{} reach {}, which takes {}.", inVolts(arrives), here, inVolts(s.limit))
                 : say("{} of {} reach {}, which takes {}.", inVolts(arrives), name(from), here,
                       inVolts(s.limit)),
             say("The pin is damaged, at once or slowly."), divided(s.member, from)},
            way);
    }

    /// A pin of a board whose rail is too high is no higher than that.
    bool isOfRail(const Strain &pin) const
    {
        const auto rail = m_net.logicOf(pin.member);
        return std::any_of(m_looked.strains.begin(), m_looked.strains.end(), [&](const Strain &s) {
            return s.harm == Harm::OverVolts && s.member == rail && s.value >= pin.value;
        });
    }

    /// The supply input of what gives a signal, where it is one's own.
    std::vector<size_t> ownSupply(size_t output) const
    {
        const auto own = m_net.ownSupplyOf(output);
        return own == noMember ? std::vector<size_t>{} : std::vector<size_t>{own};
    }

    /// A divider that stands there already and lacks its ground, or what one would do.
    Say divided(size_t member, size_t from) const
    {
        for (const auto &f : m_car.fitted()) {
            if (f.part->kind != Kind::Divider ||
                m_nets.of(f.instance->id + ".OUT") != m_all[member].net)
                continue;
            const auto ground = m_on.of(*f.instance, Role::Ground);
            if (ground == noMember || !m_on.isCommonGround(ground) || m_on.isAlone(ground))
                return say("The divider's {}.GND is not on ground, so it divides nothing.",
                           f.instance->id);
        }
        return from == noMember ? say("Look at what is joined to {}.", name(member))
                                : say("A divider between them brings it down: V × R2 / (R1 + R2).");
    }

    void outputHeld(const Strain &s)
    {
        const bool motor = s.harm == Harm::OutputAmps;
        const char *code = motor ? "motor-output-held" : "output-against-output";
        auto others = m_on.company(s.member);
        for (const auto &f : m_found) // one a conductor
            if (f.code == code && m_nets.of(f.places.front().name) == m_all[s.member].net)
                return;
        constexpr size_t most = 2;
        if (others.size() > most)
            others.resize(most);
        std::vector<std::string> names;
        for (const size_t o : others)
            names.push_back(name(o));
        auto members = others;
        members.insert(members.begin(), s.member);
        add(code, Severity::Error,
            others.empty() ? say("{}", name(s.member))
                           : say("{} and {}", name(s.member), names.front()),
            {others.empty() ? say("{} gives {}; it bears {}.", name(s.member), inAmps(s.value),
                                  inAmps(s.limit))
                            : say("{} is joined to {}: {} flow where it bears {}.", name(s.member),
                                  joined(names, " and "), inAmps(s.value), inAmps(s.limit)),
             motor ? say("The driver cuts out or burns as soon as it is switched on.")
                   : say("One is high while the other is low: the output burns."),
             say("Look at what is joined to {}.", name(s.member))},
            members);
    }

    void linkAmps(const Strain &s)
    {
        const bool fuse = m_all[s.member].part->shape == "fuse";
        const auto when = s.stalled ? say("when all motors stall") : say("while the car runs");
        add("link-over-limit", s.stalled ? Severity::Warning : Severity::Error, label(s.member),
            {fuse ? say("{} flow through the {} fuse {}: it may blow.", inAmps(s.value),
                        inAmps(s.limit), when)
                  : say("{} flow through {} {}; it bears {}.", inAmps(s.value), label(s.member),
                        when, inAmps(s.limit)),
             fuse ? say("The car stands still, in the middle of a run.")
                  : say("Its contacts weld, or it overheats."),
             say("It is the motors that ask for this much.")},
            {s.member});
    }

    /// A regulated rail; what it gives while motors are held is the power tree's to judge.
    void rail(const Strain &s)
    {
        if (s.stalled)
            return;
        const auto others = m_on.company(s.member);
        std::vector<std::string> names;
        for (const size_t o : others)
            names.push_back(name(o));
        std::vector<size_t> members = {s.member};
        members.insert(members.end(), others.begin(), others.end());
        if (m_net.nodeOf(s.member) == m_net.nodeOf(m_net.groundOf(s.member))) {
            add("supply-to-ground", Severity::Error, name(s.member),
                {say("{} is joined to ground.", name(s.member)),
                 say("Its regulator cuts out or burns, and the board resets."),
                 say("Look at what is joined to {}.", name(s.member))},
                {s.member, m_net.groundOf(s.member)});
            return;
        }
        add("rail-over-current", Severity::Error, name(s.member),
            {say("{} is asked for {}; it gives {} at most.", name(s.member), inAmps(s.value),
                 inAmps(s.limit)),
             say("Its regulator cuts out or burns, and the board resets."),
             names.empty() ? say("Look at what hangs on {}.", name(s.member))
                           : say("Look at {}.", joined(names, ", "))},
            members);
    }

    /// A source of which only the plus has a wire: nothing flows.
    void openMinus()
    {
        for (const auto &f : m_car.fitted()) {
            const auto plus = m_on.of(*f.instance, Role::Plus);
            const auto minus = m_on.of(*f.instance, Role::Minus);
            if (plus == noMember || minus == noMember || m_all[plus].wires == 0 ||
                m_all[minus].wires > 0)
                continue;
            const auto other = m_on.reference() == minus ? noMember : m_on.reference();
            add("grounds-not-joined", Severity::Error,
                other == noMember ? say("{}", name(minus))
                                  : say("{} and {}", name(minus), name(other)),
                {say("No wire leads to {}: nothing flows.", name(minus)),
                 say("What hangs on {} has no way back.", name(plus)),
                 say("All grounds belong on one net; this one hangs apart.")},
                {minus, other, plus});
        }
    }

    /// Inputs that starve by one cause are one complaint: what should feed them and does not.
    void openSupplies()
    {
        std::map<size_t, std::vector<size_t>> byCause;
        for (const size_t input : starved())
            byCause[conductorOf(causeOf(input))].push_back(input);
        for (const auto &[cause, inputs] : byCause) {
            const auto &t = *m_all[cause].terminal;
            const auto kind = m_all[cause].part->kind;
            const bool link = kind == Kind::Link;
            const auto &called = link ? label(cause) : name(cause);
            auto members = std::vector<size_t>{cause};
            for (const size_t i : inputs) {
                members.push_back(i);
                const auto way = m_on.upstream(i);
                members.insert(members.end(), way.begin(), way.end());
                for (const auto &feed : m_all[i].fitted->feeds) // what is meant to
                    if (const auto *from = m_nets.member(feed.from);
                        from != nullptr && feed.to == m_all[i].terminal->name)
                        members.push_back(static_cast<size_t>(from - m_all.data()));
            }
            auto &root =
                add("module-unpowered", Severity::Error, name(cause),
                    {link || t.motors || kind == Kind::Rail
                         ? say("No supply reaches {}.", called)
                         : say("The {} has no supply.", m_all[cause].part->name),
                     t.motors ? say("The motors do not turn.")
                              : say("Nothing it should do will happen, and its lights stay dark."),
                     t.window ? say("{} takes {} to {}.", name(cause), inVolts(t.window->low_V),
                                    inVolts(t.window->high_V))
                              : say("Look at what should feed {}.", name(cause))},
                    members);
            for (const size_t i : inputs)
                if (i != cause)
                    root.then.push_back(say("So {} gets none.", name(i)));
        }
    }

    /// What starves together on one conductor has one cause: its rail, or the first on it.
    size_t conductorOf(size_t cause) const
    {
        if (m_all[cause].wires == 0 || m_all[cause].part->kind == Kind::Link)
            return cause;
        size_t first = noMember;
        for (size_t i = 0; i < m_all.size(); ++i) {
            if (m_all[i].net != m_all[cause].net || m_all[i].wires == 0)
                continue;
            if (m_all[i].part->kind == Kind::Rail)
                return i;
            if (first == noMember && m_all[i].terminal->role == Role::SupplyIn)
                first = i;
        }
        return first == noMember ? cause : first;
    }

    std::vector<size_t> starved() const
    {
        std::vector<size_t> all;
        for (const auto &f : m_car.fitted()) {
            const auto ground = m_on.of(*f.instance, Role::Ground);
            const bool takes =
                std::any_of(f.part->terminals.begin(), f.part->terminals.end(),
                            [](const parts::Terminal &t) { return t.role == Role::SupplyIn; });
            // What is wrong with its ground is said of that.
            if (!takes ||
                (ground != noMember && (m_on.isAlone(ground) || (m_net.nodeOf(ground) >= 0 &&
                                                                 !m_on.isCommonGround(ground)))))
                continue;
            const auto first = m_on.of(*f.instance, Role::SupplyIn);
            if (const auto own = m_net.ownSupplyOf(first); m_on.starves(own))
                all.push_back(m_all[own].terminal->role == Role::SupplyIn ? own : first);
            for (size_t i = 0; i < m_all.size(); ++i)
                if (m_all[i].fitted == f.instance && m_all[i].terminal->motors && m_on.starves(i) &&
                    std::find(all.begin(), all.end(), i) == all.end())
                    all.push_back(i);
        }
        return all;
    }

    /// The farthest place on the way up to the source that has no volts itself.
    size_t causeOf(size_t input) const
    {
        constexpr double dead_V = 1.0; ///< what a part that gets nothing leaves on its own lead
        size_t cause = input;
        for (const size_t i : m_on.upstream(input))
            if (m_all[i].terminal->role != Role::Plus &&
                m_net.volts_V(m_looked.rest, i).value_or(0.0) < dead_V)
                cause = i;
        return cause;
    }

    void grounds()
    {
        std::set<int> said;
        for (const auto &f : m_car.fitted()) {
            const auto ground = m_on.of(*f.instance, Role::Ground);
            if (ground == noMember)
                continue;
            if (m_on.isAlone(ground)) {
                add("module-ungrounded", Severity::Error, name(ground),
                    {say("The {} has no ground.", f.part->name),
                     say("Its supply has no way back and its signals have nothing to be measured "
                         "against."),
                     say("{} belongs on the common ground, joined last of all.", name(ground))},
                    {ground});
                continue;
            }
            const bool lamp = f.part->kind == Kind::Led || f.part->kind == Kind::Buzzer;
            if (lamp || m_net.nodeOf(ground) < 0 || m_on.isCommonGround(ground) ||
                !said.insert(m_net.nodeOf(ground)).second)
                continue;
            const auto other = m_on.reference();
            add("grounds-not-joined", Severity::Error,
                other == noMember ? say("{}", name(ground))
                                  : say("{} and {}", name(ground), name(other)),
                {other == noMember
                     ? say("The ground of the {} is not joined to the others.", f.part->name)
                     : say("The ground of the {} is not joined to {}.", f.part->name, name(other)),
                 say("Every light is on and every wire looks right, but no signal has a way back, "
                     "so nothing works or it works at random."),
                 say("All grounds belong on one net; this one hangs apart.")},
                {ground, other});
        }
    }

    /// A driver's logic gets the motors' volts, above what it takes, and its motors the logic's.
    void suppliesSwapped()
    {
        for (const auto &f : m_car.fitted()) {
            if (f.part->kind != Kind::Driver)
                continue;
            size_t logic = noMember;
            size_t motors = noMember;
            for (size_t i = 0; i < m_all.size(); ++i)
                if (m_all[i].fitted == f.instance && m_all[i].terminal->role == Role::SupplyIn)
                    (m_all[i].terminal->motors ? motors : logic) = i;
            if (logic == noMember || motors == noMember || !m_all[logic].terminal->window ||
                !m_all[motors].terminal->window)
                continue;
            const auto atLogic = m_net.ownVolts_V(m_looked.rest, logic).value_or(0.0);
            const auto atMotors = m_net.ownVolts_V(m_looked.rest, motors).value_or(0.0);
            const auto &window = *m_all[logic].terminal->window;
            if (atLogic <= window.high_V || atLogic > m_all[motors].terminal->window->high_V ||
                atMotors < window.low_V || atMotors > window.high_V)
                continue;
            add("supplies-swapped", Severity::Error, name(logic) + " and " + name(motors),
                {say("Logic and motor supply are swapped: {} gets {}, {} gets {}.", name(logic),
                     inVolts(atLogic), name(motors), inVolts(atMotors)),
                 say("The logic of the chip burns, and the motors run on the board's regulator."),
                 say("The pack belongs on {}, the logic rail on {}.", name(motors), name(logic))},
                {logic, motors});
        }
    }

    void sourcesTogether()
    {
        std::map<int, std::vector<size_t>> byRail;
        for (const size_t g : m_on.givers())
            byRail[m_on.rail(g)].push_back(g);
        for (const auto &[rail, all] : byRail)
            if (all.size() > 1)
                add("two-sources-one-net", Severity::Error, name(all[0]) + " and " + name(all[1]),
                    {say("{} and {} both feed one net.", name(all[0]), name(all[1])),
                     say("One drives current backwards into the other and one of them heats up."),
                     say("One of the two supplies has to come off this net.")},
                    {all[1], all[0]});
    }

    void motorsOnRegulator()
    {
        for (size_t i = 0; i < m_all.size(); ++i) {
            if (!m_all[i].terminal->motors || m_net.nodeOf(i) < 0)
                continue;
            size_t regulated = noMember;
            bool pack = false;
            for (const size_t g : m_on.givers())
                if (m_on.rail(g) == m_on.rail(i)) {
                    pack |= m_all[g].terminal->role == Role::Plus;
                    regulated = m_all[g].terminal->role == Role::SupplyOut ? g : regulated;
                }
            if (pack || regulated == noMember)
                continue; // that a regulator is joined to a pack is said as such
            add("motors-on-regulator", Severity::Error, name(i) + " at " + name(regulated),
                {say("The motors run on {}, a regulated output.", name(regulated)),
                 say("Their starts pull the logic down, and the regulator burns."),
                 say("{} belongs on the pack.", name(i))},
                {i, regulated});
        }
    }

    /// Sensors on one conductor that no pin reads.
    void outputsJoined()
    {
        std::map<int, std::vector<size_t>> byNet;
        for (size_t i = 0; i < m_all.size(); ++i) {
            const auto role = m_all[i].terminal->role;
            if (m_all[i].net >= 0 && m_all[i].wires > 0 &&
                m_nets.onLine(name(i), Role::Pin).empty() &&
                (role == Role::DigitalOut || role == Role::AnalogueOut || role == Role::Echo))
                byNet[m_all[i].net].push_back(i);
        }
        for (const auto &[net, members] : byNet) {
            const bool said =
                std::any_of(m_found.begin(), m_found.end(), [&, at = net](const auto &f) {
                    return f.code == "output-against-output" &&
                           m_nets.of(f.places.front().name) == at;
                });
            if (members.size() < 2 || said)
                continue;
            std::vector<std::string> names;
            for (const size_t m : members)
                names.push_back(name(m));
            add("output-against-output", Severity::Error, joined(names, " and "),
                {say("{} are joined.", joined(names, " and ")),
                 say("While one is high and the other low, neither is heard."),
                 say("Look which of them belongs here.")},
                members);
        }
    }

    /// Both ends of a switch, fuse or diode on one conductor: it does nothing there.
    void bypassed()
    {
        for (const auto &e : m_net.elements())
            if (e.what == What::Link && m_net.nodeOf(e.from) == m_net.nodeOf(e.to) &&
                m_all[e.from].wires > 0 && m_all[e.to].wires > 0)
                add("link-bypassed", Severity::Warning, name(e.from) + " and " + name(e.to),
                    {say("Both ends of {} are joined: it is bypassed.", label(e.from)),
                     e.part->shape == "fuse"     ? say("A short finds no fuse in its way.")
                     : e.part->shape == "switch" ? say("The car does not stop when it is "
                                                       "switched off.")
                                                 : say("What it should keep back passes."),
                     say("Look at the wire that joins its two ends.")},
                    {e.from, e.to});
    }

    /// What a source feeds past its fuse, or past its switch.
    void passedBy()
    {
        for (const auto *sort : {"fuse", "switch"})
            for (const auto &e : m_net.elements())
                if (e.what == What::Link && e.part->shape == sort && m_net.nodeOf(e.from) >= 0 &&
                    m_net.nodeOf(e.to) >= 0 && m_net.nodeOf(e.from) != m_net.nodeOf(e.to) &&
                    m_all[e.from].wires > 0)
                    passedBy(e);
    }

    void passedBy(const circuit::Element &link)
    {
        const bool fuse = link.part->shape == "fuse";
        for (size_t plus = 0; plus < m_all.size(); ++plus) {
            if (m_all[plus].terminal->role != Role::Plus || m_on.rail(plus) != m_on.rail(link.from))
                continue;
            const auto live = fedWithout(plus, link.part->shape);
            std::vector<std::string> past;
            std::vector<size_t> members = {link.from, plus};
            size_t fed = 0;
            for (size_t i = 0; i < m_all.size(); ++i) {
                const bool takes = m_all[i].terminal->role == Role::SupplyIn && m_all[i].wires > 0;
                if (!takes || m_on.rail(i) != m_on.rail(plus))
                    continue;
                ++fed;
                if (live.count(m_net.nodeOf(i)) == 0)
                    continue;
                past.push_back(name(i));
                members.push_back(i);
            }
            if (past.empty())
                continue;
            const auto all = joined(past, " and ");
            if (fuse && past.size() == fed)
                add("fuse-idle", Severity::Warning, label(link.from),
                    {say("Nothing flows through {}: it protects nothing.", label(link.from)),
                     say("A short finds no fuse in its way."),
                     say("It belongs between the pack and everything else.")},
                    members);
            else
                add(fuse ? "fed-past-fuse" : "live-past-switch", Severity::Warning,
                    say("{} and {}", name(link.from), past.front()),
                    {fuse ? say("{} gets its supply past {}.", all, label(link.from))
                          : say("{0} {1|stays|stay} live when {2} is off.", all, past.size(),
                                label(link.from)),
                     fuse ? say("A short there finds no fuse in its way.")
                          : say("The pack runs empty, and what is live can still move or burn."),
                     say("Look at the wires between {} and {}.", name(plus), past.front())},
                    members);
        }
    }

    /// The nodes that are one with a source, links of one sort left out.
    std::set<int> fedWithout(size_t plus, const std::string &sort) const
    {
        std::set<int> live = {m_net.nodeOf(plus)};
        for (bool grows = true; grows;) {
            grows = false;
            for (const auto &e : m_net.elements()) {
                if (e.what != What::Link || e.part->shape == sort)
                    continue;
                const int a = m_net.nodeOf(e.from);
                const int b = m_net.nodeOf(e.to);
                if (live.count(a) != live.count(b))
                    grows |= live.insert(live.count(a) ? b : a).second;
            }
        }
        return live;
    }

    const circuit::CarNetwork &m_net;
    const nets::Nets &m_nets;
    const kit::Assembly &m_car;
    const std::vector<nets::Member> &m_all;
    const circuit::Looked &m_looked;
    Conductors m_on;
    std::vector<Finding> m_found;
};

} // namespace

int hides(const Finding &f)
{
    if (f.code == "supply-to-ground")
        return 4;
    if (f.code == "current-into-pack" || f.code == "two-sources-one-net")
        return 2;
    const bool over =
        f.code == "supply-outside-window" && f.evidence && f.evidence->value > f.evidence->limit;
    return f.code == "plug-backwards" || over ? 1 : 0;
}

std::vector<Finding> observed(const circuit::CarNetwork &net, const circuit::Looked &looked)
{
    return Observer(net, looked).all();
}

} // namespace badger::wiring
