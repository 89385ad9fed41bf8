// SPDX-License-Identifier: GPL-3.0-or-later
// What is joined to what in a solved car, beyond its nets: through switches and fuses, up to the
// source, down to ground.
#pragma once

#include "core/circuit/strain.h"

#include <set>
#include <string>
#include <vector>

namespace badger::wiring
{

class Conductors
{
public:
    Conductors(const circuit::CarNetwork &net, const circuit::Looked &looked);

    /// Nodes that are one for a supply have one number: joined by wires, switches, fuses and
    /// jumpers, not by diodes. -1: no branch ends there.
    int rail(size_t member) const;
    /// The node is ground: joined to the reference by wires, switches and fuses alone.
    bool isCommonGround(size_t member) const;
    /// A terminal that stands for ground; noMember where the car has none.
    size_t reference() const { return m_reference; }
    /// The first terminal of a role on a part; noMember where it has none.
    size_t of(const kit::Instance &fitted, parts::Role role) const;
    /// No wire leads from this ground to another part.
    bool isAlone(size_t ground) const;
    /// Packs' and supplies' pluses, and outputs whose own input suffices, that have a wire.
    const std::vector<size_t> &givers() const { return m_givers; }
    /// What should feed a supply input: the near ends of switches, fuses and diodes on the way, the
    /// inputs of the regulators, the source; as far as it goes.
    std::vector<size_t> upstream(size_t member) const;
    /// Nothing gives it half of what it needs, at rest or while the car runs.
    bool starves(size_t input) const;
    /// What else stands on a terminal's conductor that could hold or drive it.
    std::vector<size_t> company(size_t member) const;
    /// The sensor output that leads to a member's line, else what stands beside it on its
    /// conductor; noMember where there is neither.
    size_t raisedBy(size_t member) const;

private:
    const circuit::CarNetwork &m_net;
    const circuit::Looked &m_looked;
    const std::vector<nets::Member> &m_all;
    std::vector<int> m_rail; ///< by node
    std::set<int> m_ground;
    size_t m_reference = circuit::noMember;
    std::vector<size_t> m_givers;
};

} // namespace badger::wiring
