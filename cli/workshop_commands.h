// SPDX-License-Identifier: GPL-3.0-or-later
// Calls on a workshop file.
#pragma once

#include "cli/answer.h"
#include "core/kit/car.h"

#include <cstdint>
#include <string>
#include <vector>

namespace badger::cli
{

/// A file or folder to write to, as it was typed; `path` empty where none was.
struct Output {
    std::string path;
    bool replace = false; ///< a file that is there already
};

/// "from", "to", "colour".
Json wireJson(const kit::Wire &wire);

Result<Answer> list(const std::string &file);
/// What no longer rests on what is there, of every car or of one, in the order to do it again.
Result<Answer> stale(const std::string &file, const std::string &carName);
/// What was measured on every car or on one, with what it comes to and its arithmetic.
Result<Answer> measured(const std::string &file, const std::string &carName);
/// `car` empty: every car.
Result<Answer> check(const std::string &file, const std::string &car);
Result<Answer> power(const std::string &file, const std::string &car);
/// The wire list; with two revisions, what changes between them.
Result<Answer> wiring(const std::string &file, const std::string &car,
                      const std::vector<int> &revisions, const Output &csv);
/// A pin map without conflicts, with the named parts added.
Result<Answer> pins(const std::string &file, const std::string &car,
                    const std::vector<std::string> &adding);
/// The harness that kit and program ask for, or one module's wires of it; written into a copy.
Result<Answer> wire(const std::string &file, const std::string &car, const std::string &module,
                    const Output &out);
Result<Answer> motion(const std::string &file, const std::string &car);
/// `reading` empty: the program's first.
Result<Answer> table(const std::string &file, const std::string &car, const std::string &reading);
Result<Answer> budget(const std::string &file, const std::string &car);
/// How `code` writes.
struct Coding {
    Output folder;          ///< is made where it is missing
    bool partTests = false; ///< the programs that try one part each instead
    std::string style;      ///< "blocking", "timed"; empty: each wait as the program has it
    bool despiteErrors = false;
};
/// Writes the board program into a folder: all of its files or none. A program or wires with an
/// error are refused with Conflict, naming the first, unless despiteErrors says so; the text then
/// carries all of them in its head.
Result<Answer> code(const std::string &file, const std::string &car, const Coding &how);

} // namespace badger::cli
