// SPDX-License-Identifier: GPL-3.0-or-later
// Cars that are built part by part, for tests of the kit.
#pragma once

#include "core/edit/kit_edits.h"
#include "core/power/check.h"
#include "support/fixture.h"

namespace badger::test
{

/// A starting kit by its name, with the shipped catalogue and parts that can be bent.
struct Kit {
    kit::Car car;
    Pieces<parts::Part> own; ///< bent copies; they hide the shipped parts

    explicit Kit(const std::string &name = "Stop ahead");
    ~Kit();

    parts::Catalogue catalogue() const;
    kit::Instance &part(const std::string &id);
    void take(const std::string &id);
    kit::Instance &fit(const std::string &partId);
    /// The catalogue part, to bend: from then on this kit's own copy is used.
    parts::Part &bend(const std::string &partId);
    void forget(const std::string &partId, const std::string &figure);
    void set(const std::string &partId, const std::string &figure, double value);

    power::Report report() const;
    std::vector<Finding> power() const;
    /// What is an error or a warning.
    std::vector<std::string> trouble() const;
};

} // namespace badger::test
