// SPDX-License-Identifier: GPL-3.0-or-later
// A program on one car: lowered once, with everything that the car says to it.
//
// Made once for a question and handed on: the machine, what the car knows about the program's
// pieces, the car's nets and network, its motion table, the pins that the program uses. Budget,
// checks and runs take this one value.
#pragma once

#include "core/base/pieces.h"
#include "core/boardcode/wires.h"
#include "core/circuit/car_network.h"
#include "core/kit/assembly.h"
#include "core/motion/motion.h"
#include "core/oncar/car_model.h"
#include "core/regions/exact.h"
#include "core/tune/record.h"

#include <memory>

namespace badger::oncar
{

/// The distances that the car's calibrations give for counts, the pulses at which its wheel servos
/// stand, and the width of its board's numbers.
machine::CarFacts carFacts(const kit::Assembly &car, const rules::Program &program,
                           const Pieces<tune::Record> &records);

/// The newest record of a kind; the list is in the order in which they were taken. Null: none.
const tune::Record *newest(const Pieces<tune::Record> &records, tune::What what,
                           const std::string &instance);

/// How the program's board tells a wheel what to do, by pin.
struct WheelPins {
    int forward = none, backward = none, speed = none;
    bool held = false;        ///< its enable is held high: one speed
    bool servo = false;       ///< `forward` takes a pulse
    int way = 1;              ///< of a servo: +1 where a longer pulse goes forward
    double neutral_us = 1500; ///< as the program has it
    bool port = false;        ///< `forward` takes a signed speed
    nets::Levels brake, coast;
};

/// Which pins a program uses, by its sensors and servos.
struct ProgramPins {
    std::array<WheelPins, 2> wheels;
    std::vector<std::pair<int, int>> pings; ///< by sensor: trigger and echo
    std::vector<int> inputs;                ///< by sensor
    std::vector<int> servos;                ///< by servo of the machine
};

class ProgramOnCar
{
public:
    /// Car, program and records are looked at and have to outlive it. Fails as machine::lower() and
    /// boardcode::wiresFor() do, and where nothing says how fast the car goes or where its sensors
    /// sit, naming the part.
    ///
    /// `built`: the car as it really is, where that is not as it is drawn (a fault that was put in
    /// on purpose). The program takes its pins from the drawn one; what they do is as built.
    static Result<ProgramOnCar> make(const kit::Assembly &car, const rules::Program &program,
                                     const Pieces<tune::Record> &records,
                                     const kit::Assembly *built = nullptr);

    /// The same car with another program that uses the same sensors, servos and pins: one whose
    /// values differ. It is lowered; all else is shared. Fails as machine::lower() does.
    Result<ProgramOnCar> withProgram(const rules::Program &program,
                                     const Pieces<tune::Record> &records) const;

    const kit::Assembly &car() const { return m_car; }
    const rules::Program &program() const { return *m_program; }
    const machine::CarFacts &facts() const { return m_facts; }
    const machine::Machine &machine() const { return m_exact->machine(); }
    /// Its exact cells, made on first use: by one thread.
    const regions::Exact &exact() const { return *m_exact; }
    const nets::Nets &nets() const { return *m_nets; }
    const circuit::CarNetwork &network() const { return *m_network; }
    const motion::MotionTable &motion() const { return m_motion; }
    const CarModel &model() const { return m_model; }
    /// For faults that are put into a run on purpose, before it is planned.
    CarModel &changeModel() { return m_model; }
    const ProgramPins &pins() const { return m_pins; }

private:
    ProgramOnCar(const kit::Assembly &car, const rules::Program &program)
        : m_car(car), m_program(&program)
    {
    }

    kit::Assembly m_car;
    const rules::Program *m_program;
    machine::CarFacts m_facts;
    std::shared_ptr<const regions::Exact> m_exact;
    std::shared_ptr<const nets::Nets> m_nets;
    std::shared_ptr<const circuit::CarNetwork> m_network;
    motion::MotionTable m_motion;
    CarModel m_model;
    ProgramPins m_pins;
};

} // namespace badger::oncar
