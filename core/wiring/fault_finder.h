// SPDX-License-Identifier: GPL-3.0-or-later
// Finds the faults of one car; faults.h says which. What turns a plug or shorts a supply stands in
// faults_supply.cpp, what is too low or does not arrive in faults_low.cpp, what holds a signal or
// asks too much in faults_signal.cpp.
#pragma once

#include "core/units/quantity.h"
#include "core/wiring/faults.h"

#include <map>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <vector>

namespace badger::wiring
{

class FaultFinder
{
public:
    FaultFinder(const circuit::CarNetwork &net, const circuit::Looked &looked)
        : m_net(net), m_nets(net.nets()), m_car(m_nets.car()), m_all(m_nets.all()), m_looked(looked)
    {
    }
    std::vector<Finding> all();
    /// Nothing gives it half of what it needs, at rest or while the car runs.
    static bool starves(const circuit::CarNetwork &net, const circuit::Looked &looked,
                        size_t input);

private:
    const std::string &name(size_t member) const { return m_all[member].name; }
    const std::string &label(size_t member) const { return kit::labelOf(*m_all[member].fitted); }

    Finding &add(const char *code, Severity severity, Say where, Say what, Say why, Say look,
                 const std::string &target);
    /// The strains of a kind that no root has taken for its own.
    std::vector<const circuit::Strain *> strains(circuit::Harm harm) const;
    Say words(const circuit::Strain &s) const;
    /// All that is left of the supply's strains is a consequence of a root.
    void takeAll(Finding &root);

    /// How bad a car is, to compare it with a copy on which something was changed.
    struct Weight {
        size_t supply = 0; ///< strains of the supply
        size_t all = 0;
        size_t dead = 0; ///< inputs that no supply reaches
    };
    static Weight weight(const circuit::CarNetwork &net, const circuit::Looked &looked);
    Weight weight(const kit::Car &car) const;

    std::pair<std::string, std::string> leads(const kit::Fitted &f) const;
    bool hasStrain(circuit::Harm harm) const;

    // What is looked for, in this order: a root takes what follows from it.
    /// Two ends of a part that were exchanged on a copy, and how bad the car was then.
    struct Turn {
        const kit::Fitted *part = nullptr;
        std::string a;
        std::string b;
        Weight after;
    };
    /// A pack, a diode, a plug or a regulator whose turning mends the supply; nothing where it
    /// does not.
    std::optional<Turn> turnOf(const kit::Fitted &f, const Weight &now) const;
    bool backwards(const kit::Fitted &f) const;
    /// A source of which only the plus has a wire: nothing flows, and no volts of what hangs on it
    /// mean anything.
    void openMinus();
    /// A pack, a plug, a regulator or a diode that has only to be turned.
    void turnedRound();
    void plugs();
    /// A driver whose logic hangs on the motors' supply and its motors on the logic's.
    void suppliesSwapped();
    void shorted();
    /// Two packs or supplies whose pluses this wire joins, and nothing else does.
    std::optional<std::pair<std::string, std::string>> joinedBy(const kit::Wire &wire) const;
    /// Nodes that are one for a supply: joined by switches, fuses and wires, not by diodes.
    int rail(int node) const;
    /// A driver's motor supply hangs on what a regulator makes.
    void motorsOnRegulator();
    /// A pack's or supply's plus, or an output whose own input suffices.
    std::vector<size_t> givers() const;
    void sourcesTogether();
    void charged();
    void packOnPin();
    /// The sensor output that leads to a member's line, else what stands beside it on its
    /// conductor; empty where there is neither.
    std::string raisedBy(size_t member) const;
    /// What is said of the supply that a node is on, where that is too high; null where it is not.
    Finding *overVoltsSaid(int node);
    /// What is said of a rail of this board that is too high; null where none is.
    Finding *railFault(const kit::Instance &board);
    /// What is said of the supply of a board whose pins take less than they should because of it;
    /// null where they do not.
    Finding *weakSupply(const circuit::Strain &s);
    /// A board's rail that rises because a signal of more volts comes in through a pin.
    void liftedRails();
    void overVolts();
    static bool takesPower(const parts::Part &part);
    size_t memberOf(const kit::Fitted &f, parts::Role role) const;
    std::vector<size_t> starvedInputs() const;
    /// Inputs that starve together on one conductor have one cause: its rail.
    void railsFor(std::map<size_t, std::vector<size_t>> &byCause) const;
    size_t causeOf(size_t input, const std::vector<size_t> &starved) const;
    void openSupplies();
    bool groundHeld(const kit::Fitted &f) const;
    /// No wire leads from the part's ground to anything else.
    bool groundAlone(size_t ground) const;
    void openGrounds();
    /// The nodes that are ground: joined to the reference by wires, switches and fuses alone.
    std::set<int> groundNodes() const;
    /// Wired grounds that no metal joins to the others.
    void apart();
    const nets::Member *referenceGround() const;
    void underVolts();
    /// What else stands on a terminal's conductor that could hold or drive it.
    std::vector<std::string> company(size_t member) const;
    /// A divider that stands there already and lacks its ground, or what one would do.
    Say overVoltsLook(const std::string &at, const std::string &from) const;
    /// Open-circuit volts of the sensor output that leads to a pin, or of what stands on its net.
    void pinVolts();
    Finding *overFed(const std::string &output);
    void outputsHeld();
    /// Two sensors on one conductor that no pin reads.
    void outputsJoined();
    void lights();
    void links();
    void bypassed();
    void idleFuses();
    void rails();
    void resistors();

    const circuit::CarNetwork &m_net;
    const nets::Nets &m_nets;
    const kit::Assembly &m_car;
    const std::vector<nets::Member> &m_all;
    const circuit::Looked &m_looked;
    std::vector<Finding> m_found;
    std::set<const circuit::Strain *> m_taken;
    bool m_rooted = false;
    /// What follows on a board when a signal lifts its rail, by the board's id.
    std::map<std::string, std::vector<Say>> m_lifted;
};

inline units::Quantity inVolts(double v)
{
    return units::quantity(v, units::Unit::Volt, 2);
}
/// Milliamperes below one ampere.
Say inAmps(double a);
/// Every wire that ends at one terminal ends at the other, and the other way round.
kit::Car turned(kit::Car car, const std::string &a, const std::string &b);
bool isSupplyHarm(circuit::Harm harm);

} // namespace badger::wiring
