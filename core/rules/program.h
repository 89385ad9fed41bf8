// SPDX-License-Identifier: GPL-3.0-or-later
// What is a behaviour program?
//
// One model from which the interpreter, the table, the checks, the drawing and the board code are
// all made. A program is in one state at a time; the state says what the wheels do. Once a pass it
// takes its readings, turns a missing one into what the declared policy says, and walks through
// the ordered rules: first those that hold in every state, then those of the state it is in. A rule
// that holds leads to a state, and that state's motion, actions and wait are carried out; then the
// pass ends, or the next rule is tested on the same readings.
//
// A reading is one number with a name: of one sensor, of a look to one angle of a servo, of a scan
// over several, or made from others. It is taken in every pass or where an action says so, and
// keeps its number until it is taken again.
//
// No behaviour has a type of its own: templates (rules/templates.h) are programs, stored as data.
#pragma once

#include "core/base/extra.h"
#include "core/base/id.h"
#include "core/units/quantity.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace badger::rules
{

/// How the board keeps a reading.
enum class NumberType {
    Whole,   ///< cut to a whole number towards zero
    Fraction ///< 32-bit floating point
};

/// What a missing echo counts as.
enum class NoEcho {
    Unset,    ///< not chosen: an error, and no board program is written
    Clear,    ///< farther than everything
    Blocked,  ///< nearer than everything
    HoldLast, ///< the last reading that had an echo
    Stop,     ///< go to the stop state whatever the rules say
    Ignore    ///< skip the rules in this pass, stay in the state
};

/// Where a reading's number comes from.
enum class Source {
    Ranger,     ///< an echo, as a distance
    Digital,    ///< a sensor that says yes or no: 1 where it sees what it seeks, else 0
    Analogue,   ///< a count of the board's converter, 0 to 1023, or what is made of it
    Scan,       ///< the best of a ranger's looks to several angles, and its angle
    Pick,       ///< the nearest or farthest of other readings, and which it is
    Difference, ///< one reading less another
    Button,     ///< 1 while it is pressed
    Key         ///< a person's command over the link: a Command as a number
};

/// What a person's key asks for. `None` also after the reading's time-out.
enum class Command { None, Ahead, Back, Left, Right };

enum class Shade { Light, Dark };

/// Where a ranger's servo has to stand for a reading. One angle is a look to there; several are
/// taken one a look in turn (Ranger), or all in one look (Scan).
struct Swivel {
    std::string servo;              ///< the instance that carries the ranger
    std::vector<double> angles_deg; ///< of the servo: 90 ahead, small numbers to the right
    std::string dwell; ///< a Duration value: after it was sent elsewhere, before a ping
    Extra extra{};
    bool operator==(const Swivel &) const = default;
};

/// What a value past the limit counts as in a scan.
enum class Beyond { None, Limit, Zero };

/// By which rule one of several numbers is taken.
struct Choice {
    bool nearest = false;    ///< else the farthest
    bool lastOfTies = false; ///< else the first that was looked at
    Beyond beyond = Beyond::Limit;
    Extra extra{};
    bool operator==(const Choice &) const = default;
};

/// What a count is made into before it is compared.
enum class Scale {
    Raw,
    Normalised, ///< 0 on dark, 1 on light: (count - dark) / (light - dark)
    Distance    ///< by the sensor's calibration on this car, as a distance
};

/// One reading.
struct Reading {
    std::string name;                           ///< "ahead", used in rules and in the board program
    std::string instance;                       ///< the sensor on the car, "ranger"
    units::Unit unit = units::Unit::Centimetre; ///< of the number that the rules compare
    NumberType number = NumberType::Whole;
    std::optional<double> air_degC; ///< assumed by the program
    std::optional<double> limit_m;  ///< farther counts as no echo; sets the time-out
    int medianOf = 1;
    NoEcho noEcho = NoEcho::Unset;
    Extra extra{};

    Source source = Source::Ranger;
    bool everyPass = true; ///< else only where an action looks
    int timeBits = 32;     ///< the echo's time is kept in so many bits, 16 with a sign
    std::optional<Swivel> swivel{};
    std::optional<Choice> choice{}; ///< of a Scan or a Pick
    std::vector<std::string> of{};  ///< readings: of a Pick all, of a Difference two
    Shade seeks = Shade::Dark;      ///< of a Digital
    /// Of a Digital: its output on light, 0 or 1, as assumed; of a Button its output while pressed.
    std::optional<int> lightLevel{};
    Scale scale = Scale::Raw; ///< of an Analogue
    std::string light{};      ///< Count values, for Normalised
    std::string dark{};
    std::string timeOut{}; ///< of a Key: a Duration value, after which it counts as none
    /// Of an echo: nearer than this is no distance (the ranger is blind there), and counts as
    /// `tooNear` says. Whatever came back is then a look that heard something, also where its
    /// number is cut to nought. One of the two without the other is not chosen yet.
    std::optional<double> nearest_m{};
    NoEcho tooNear = NoEcho::Unset;
    /// Of an echo: farther than this cannot be meant, and counts as `wild` says; short of
    /// `limit_m`. Such a look counts as lost.
    std::optional<double> farthest_m{};
    NoEcho wild = NoEcho::Unset;

    bool operator==(const Reading &) const = default;
};

/// Is it made from echoes?
inline bool isEcho(const Reading &r)
{
    return r.source == Source::Ranger || r.source == Source::Scan;
}

/// What a value is: its unit, its range, and what may use it.
enum class ValueKind {
    Distance,
    Duration,
    Speed,     ///< a PWM count
    Count,     ///< of the converter, 0 to 1023
    Angle,     ///< degrees, as a servo is told and a turn is long
    Share,     ///< a number without a unit: a gain, a normalised reading
    Times,     ///< a whole number of readings
    PerDegree, ///< seconds a degree of turn
};

/// A named value of the program. Unset means that no board program can be written yet.
struct Value {
    std::string name;    ///< "halt"
    std::string meaning; ///< "stop at this distance"
    ValueKind kind = ValueKind::Distance;
    std::optional<double> si; ///< metres, seconds, seconds a degree, degrees, or a bare number
    Extra extra{};
    bool suggested = false; ///< reckoned by this program, not yet chosen by a person
    bool operator==(const Value &) const = default;
};

enum class Compare { Less, LessOrEqual, Greater, GreaterOrEqual };

/// What a condition asks.
enum class Test {
    Number,     ///< a reading against a value: "ahead <= halt"
    Angle,      ///< a scan's angle against a value
    Which,      ///< a Pick took this reading
    Than,       ///< a reading against another with a tolerance: "right > left + tolerance"
    Seen,       ///< a Digital sees what it seeks, a Button is pressed
    Unseen,     ///< the opposite
    Key,        ///< a Key is this command
    Remembered, ///< this was remembered last under that name
    Lost,       ///< a reading had no number in so many looks in succession
    Since       ///< so long since the state was entered
};

/// "ahead <= halt".
struct Condition {
    std::string reading; ///< or what is remembered
    Compare compare = Compare::LessOrEqual;
    std::string value; ///< of Than the tolerance; of Lost how many times
    Extra extra{};

    Test test = Test::Number;
    std::string other{}; ///< of Than the other reading; of Which, Key, Remembered the word
    std::string times{}; ///< a Times value: it has to hold in so many passes in succession

    bool operator==(const Condition &) const = default;
};

/// "When all (or any) conditions hold, go to a state." No condition: always.
struct Rule {
    std::string name; ///< "near"
    std::vector<Condition> when;
    std::string go;       ///< a state
    bool endsPass = true; ///< else-if; false: the next rule is tested as well
    Extra extra{};
    bool any = false;   ///< one condition is enough
    bool again = false; ///< into the state it stands in: its actions are carried out once more
    bool operator==(const Rule &) const = default;
};

enum class Wheels { Drive, Brake, Coast };

/// What one wheel does while driving.
struct Wheel {
    int sense = 0;     ///< -1 back, 0 still, +1 forward
    std::string speed; ///< a Speed value where it turns
    Extra extra{};
    bool operator==(const Wheel &) const = default;
};

/// How a reading acts on a motion.
enum class Follows {
    Nothing,
    Steer, ///< one wheel faster, the other slower, by how far the reading is from the middle
    Slow,  ///< both wheels slower the nearer the reading is to its low end
    Scan   ///< toward the side of a scan's angle: as written to the left, mirrored to the right
};

/// "Steers by the share of the spot." With m = (low + high) / 2 and h = (high - low) / 2 the error
/// is e = (reading - m) / h, held to -1 .. 1, and the wheels get their speed times 1 + gain * e and
/// 1 - gain * e: a high reading turns to the right, or to the left where it says so. Slow takes
/// (reading - low) / (high - low), held to 0 .. 1.
struct Proportion {
    Follows follows = Follows::Nothing;
    std::string reading;
    std::string low; ///< values of the reading's kind
    std::string high;
    std::string gain; ///< a Share value
    bool highTurnsLeft = false;
    Extra extra{};
    bool operator==(const Proportion &) const = default;
};

/// What a pair of wheels does. The wheels count only while driving.
struct Motion {
    Wheels wheels = Wheels::Coast;
    Wheel left;
    Wheel right;
    Extra extra{};
    std::optional<Proportion> proportion{};
    bool operator==(const Motion &) const = default;
};

enum class WaitKind {
    Blocking, ///< the board does nothing else
    Timed     ///< readings and rules go on; the end is looked at once a pass
};

/// How long a wait is.
enum class Length {
    Fixed,
    Random,   ///< between two durations, drawn anew each time
    PerDegree ///< so long a degree, times an angle or how far a scan's angle is from ahead
};

/// "Stay for this long, then go there."
struct Wait {
    std::string duration; ///< a Duration value; of PerDegree a PerDegree value
    WaitKind kind = WaitKind::Timed;
    std::string then; ///< a state
    Extra extra{};
    Length length = Length::Fixed;
    std::string most{};  ///< of Random: a Duration value
    std::string angle{}; ///< of PerDegree: an Angle value, or a Scan reading
    bool operator==(const Wait &) const = default;
};

enum class Does {
    Look,     ///< takes a reading, by way of its servo where it has one
    Servo,    ///< sends a servo to an Angle value, or to where a scan was best
    Beep,     ///< for a Duration value
    Print,    ///< a word
    Pause,    ///< a Duration value, blocking
    Remember, ///< a word under a name
    Await     ///< stands until a Button is pressed; in the start routine alone
};

/// One thing that is done on the way into a state, in order.
struct Action {
    Does does = Does::Look;
    std::string what;  ///< the reading, the servo, the buzzer, or the name that is remembered
    std::string value; ///< an angle, a duration; or the word that is printed or remembered
    Extra extra{};
    bool operator==(const Action &) const = default;
};

struct State {
    std::string name; ///< "drives"
    Motion motion;
    std::optional<Wait> wait;
    std::vector<Rule> rules; ///< tested after the program's own; not while a wait runs
    Extra extra{};
    std::vector<Action> actions{}; ///< after the motion, before the wait
    bool operator==(const State &) const = default;
};

struct Prints {
    bool on = false;
    int baud = 9600;
    Extra extra{};
    bool operator==(const Prints &) const = default;
};

/// Something the program keeps in mind: a word, "left".
struct Memo {
    std::string name;  ///< "turn"
    std::string first; ///< what it holds at the start; may be empty
    Extra extra{};
    bool operator==(const Memo &) const = default;
};

/// From which template a program was made, and what was chosen.
struct Origin {
    std::string name;                           ///< "keep-station"
    std::map<std::string, std::string> choices; ///< as they are typed, "near" to "18cm"
    Extra extra{};
    bool operator==(const Origin &) const = default;
};

struct Program {
    Id<Program> id;
    std::string name;       ///< a label; each program of a workshop has its own
    int version = 1;        ///< of the text below; grows with the first edit after it was written
    int writtenVersion = 0; ///< last version that was written as a board program
    std::vector<Value> values;
    std::vector<Reading> readings;
    std::vector<Rule> everywhere; ///< rules that hold in every state that has no wait
    std::vector<State> states;    ///< the first is where the program starts
    std::string stopState;        ///< where the Stop policy goes
    std::string passWait;         ///< a Duration value: pause at the end of each pass
    WaitKind passWaitKind = WaitKind::Blocking;
    Prints prints;
    Extra extra{};
    std::vector<Action> start; ///< before the first state is entered
    std::vector<Memo> memos;
    int seed = 1; ///< of random lengths
    std::optional<Origin> from;
    /// How what takes time on the way into a state is done: servos that have to stand, beeps,
    /// pauses. Timed: passes go on meanwhile, and no rule is asked.
    WaitKind actionsKind = WaitKind::Blocking;

    const Value *value(std::string_view name) const;
    const Reading *reading(std::string_view name) const;
    const State *state(std::string_view name) const;
    bool operator==(const Program &) const = default;
};

/// Values, policies and units that are not chosen yet, in words: "the value 'halt'". While there
/// is one, nothing can be run or written.
std::vector<Say> unset(const Program &program);

/// References that lead nowhere or cannot be meant: a rule to a missing state, a comparison with a
/// duration, no state at all. The reader refuses such a program; each as a sentence.
std::vector<Say> broken(const Program &program);

/// May what a reading hears stop the car, by one of its policies?
bool mayStop(const Reading &reading);

/// Can the program be run as it stands? Fails with Malformed where a reference leads nowhere, with
/// Missing while something is unset (naming it all).
Result<void> complete(const Program &program);

/// A program of this shape with nothing chosen: drive, and stand still inside a threshold.
Program haltProgram(const Id<Program> &id, const std::string &name);

/// The motion in words: "drives", "stands (brake)", "turns left".
Say words(const Motion &motion);
const char *symbol(Compare compare); ///< as in program text, "<="
const char *sign(Compare compare);   ///< as people write it, "≤"
const char *word(NoEcho policy);     ///< "clear"

/// What the car does in a state, as a colour and a word on screen.
enum class Act { Go, Stand, Back, Turn };
Act actOf(const Motion &motion);
const char *word(Act act); ///< "go", "stand", "back", "turn"

} // namespace badger::rules
