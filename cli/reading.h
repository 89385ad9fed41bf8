// SPDX-License-Identifier: GPL-3.0-or-later
// How does a call read its options?
#pragma once

#include "core/units/quantity.h"

#include <optional>
#include <string>

namespace badger::cli
{

/// Reads options one after the other; the first error stays.
class Reading
{
public:
    double take(const std::string &text, units::Dimension dimension, const char *name)
    {
        if (m_error)
            return 0.0;
        const auto value = units::parse(text, dimension, name);
        if (!value)
            m_error = value.error();
        return value.value_or(0.0);
    }
    /// An option that was not given leaves its default.
    double takeIfGiven(const std::string &text, units::Dimension dimension, const char *name)
    {
        return text.empty() ? 0.0 : take(text, dimension, name);
    }
    const std::optional<Error> &error() const { return m_error; }

private:
    std::optional<Error> m_error;
};

} // namespace badger::cli
