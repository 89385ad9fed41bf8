// SPDX-License-Identifier: GPL-3.0-or-later
// Sentences that are added to a program, moved in it and taken out of it.
//
// Every change leaves a program whose references all lead somewhere. A value that a new sentence
// needs is not chosen, so that nothing is invented; a value that no sentence needs any more goes
// with the last one.
#pragma once

#include "core/sentences/sentences.h"

namespace badger::sentences
{

enum class Rewrite {
    AddRule,       ///< below a rule, or as the last of a heading
    AddCondition,  ///< as the last of a rule
    DropCondition, ///< the last of a rule
    OnlyOneNeeded, ///< of a rule's conditions: from all to any, or back
    EndOrGoOn,     ///< whether a rule ends the pass
    Sure,          ///< the last condition has to hold in several passes in succession, or no more
    AddLook,       ///< into a state's way in: each kind of thing it can do there
    AddServo,
    AddBeep,
    AddPause,
    AddAwait,   ///< to the start alone: stand until a button is pressed
    DropAction, ///< the last thing that a state does on its way in, or the start
    AddWait,    ///< a state ends by itself after a time
    DropWait,
    OwnWay,   ///< of an echo that is read as all others are: its limit is chosen anew, apart
    TooNear,  ///< of an echo: what is too near counts apart, blocked at first, or no more
    Wild,     ///< the same of what is too far to be meant
    AddState, ///< below a state
    MoveUp,
    MoveDown,
    Remove
};

/// What can be done at a sentence, in the order in which a menu says it.
std::vector<Rewrite> rewrites(const rules::Program &program, const Sentence &sentence);

/// What is done at it, "Add a rule below".
Say words(Rewrite rewrite, const rules::Program &program, const Sentence &sentence);

/// Does it. On success `program` is changed, and the place to go on at is returned: a target of its
/// sentences. Fails with Conflict where something still needs what would go (naming it), with
/// Missing where there is nothing to make it of; the program is as it was then.
Result<std::string> rewrite(rules::Program &program, const Sentence &sentence, Rewrite rewrite);

/// A sensor that a program could read.
struct Readable {
    std::string instance; ///< on the car; of a strip with its terminal, "strip.OUT1"
    rules::Source source = rules::Source::Ranger;
    std::string servo{}; ///< that turns it; empty: none does
};
/// Reads a sensor in every pass, under its own name where that is free. Limit, air, policy, level
/// and dwell are not chosen. A ranger on a servo looks ahead. Returns the target of its sentence.
std::string addReading(rules::Program &program, const Readable &sensor);

} // namespace badger::sentences
