// SPDX-License-Identifier: GPL-3.0-or-later
// What is a car made of, with each part looked up once?
#pragma once

#include "core/kit/car.h"

#include <string_view>
#include <vector>

namespace badger::kit
{

/// One fitted part with its entry of the catalogue; neither is null.
struct Fitted {
    const Instance *instance;
    const parts::Part *part;
};

/// A car with its parts resolved: made once for a question and handed on, so that nobody looks a
/// part up again. It looks at the car, which has to outlive it, and shares the catalogue.
///
/// `assembly->wires` reads the car itself. An instance whose part the catalogue lacks is not among
/// fitted(); the reader of files refuses such a car.
class Assembly
{
public:
    /// Two arguments in braces make one: check({car, catalogue}).
    Assembly(const Car &car, const parts::Catalogue &catalogue);

    const Car &car() const { return *m_car; }
    const Car *operator->() const { return m_car; }
    operator const Car &() const { return *m_car; }
    const parts::Catalogue &catalogue() const { return m_catalogue; }

    /// In the order of the car.
    const std::vector<Fitted> &fitted() const { return m_fitted; }
    /// Null where the car has no such instance.
    const Fitted *find(std::string_view id) const;
    /// Of an instance of this car; null where the catalogue lacks it.
    const parts::Part *part(const Instance &instance) const;
    /// The catalogue terminal that "driver.ENA" names on this car, or null.
    const parts::Terminal *terminal(std::string_view name) const;

    /// The first fitted part of a kind, or null.
    const Instance *first(parts::Kind kind) const;
    /// The motor on a side, or null.
    const Instance *motorOn(Side side) const;

    /// Volts of the car's pack without load: the sum of its cells. Empty where it has no pack.
    std::optional<double> packVolts_V(Charge charge) const;

private:
    const Car *m_car;
    parts::Catalogue m_catalogue;
    std::vector<Fitted> m_fitted;
};

} // namespace badger::kit
