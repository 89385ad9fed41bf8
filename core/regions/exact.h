// SPDX-License-Identifier: GPL-3.0-or-later
// A program as it is on one car: lowered once, with the exact cells of its modes, each made when it
// is first asked for. Checks, budget, comparison and pictures read this one value.
#pragma once

#include "core/regions/regions.h"

namespace badger::regions
{

/// Of one thread, until every mode was asked for.
class Exact
{
public:
    /// The program is looked at and has to outlive it; it is not broken. While something of it is
    /// unset it is lowered as far as it goes (machine::lowerAnyway).
    Exact(const rules::Program &program, const CarFacts &facts);

    const rules::Program &program() const { return *m_program; }
    const Machine &machine() const { return m_machine; }
    /// Can a mode be got into from the first?
    bool isReachable(size_t mode) const { return m_can[mode]; }
    /// Fails as of() does.
    const Result<Regions> &cells(size_t mode) const;

private:
    const rules::Program *m_program;
    Machine m_machine;
    std::vector<bool> m_can;
    mutable std::vector<std::optional<Result<Regions>>> m_cells; ///< by mode
};

} // namespace badger::regions
