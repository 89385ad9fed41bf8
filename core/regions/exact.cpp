// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/exact.h"

namespace badger::regions
{

Exact::Exact(const rules::Program &program, const CarFacts &facts)
    : m_program(&program), m_machine(machine::lowerAnyway(program, facts)),
      m_can(reachable(m_machine)), m_cells(m_machine.modes.size())
{
}

const Result<Regions> &Exact::cells(size_t mode) const
{
    auto &kept = m_cells[mode];
    if (!kept)
        kept = of(*m_program, m_machine, static_cast<int>(mode));
    return *kept;
}

} // namespace badger::regions
