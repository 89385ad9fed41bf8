// SPDX-License-Identifier: GPL-3.0-or-later
// How do the test classes of one folder share one program?
#pragma once

#include <QObject>
#include <functional>
#include <memory>
#include <vector>

namespace badger::test
{

/// For how long a test waits for what is sure to come: the machine may be busy with something else.
/// What is too slow is a benchmark's to say.
inline constexpr int patience_ms = 300000;

/// One test class and the file it stands in.
struct Suite {
    const char *file; ///< "core/wiring/test_planner.cpp", as the compiler was given it
    std::function<std::unique_ptr<QObject>()> make;
};

/// Every test class of this program, in the order of linking.
std::vector<Suite> &suites();

struct Registered {
    explicit Registered(Suite suite) { suites().push_back(std::move(suite)); }
};

} // namespace badger::test

/// Stands at the end of a test file: its class is run when the program is called with the file's
/// name (`core_wiring planner`), or with no name at all.
#define BADGER_TEST(Class)                                                                         \
    static const badger::test::Registered registered##Class(                                       \
        {__FILE__, [] { return std::make_unique<Class>(); }});
