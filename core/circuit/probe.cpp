// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/probe.h"

#include <algorithm>
#include <cmath>

namespace badger::circuit
{

using parts::Role;

struct Probe::Model {
    kit::Car car;
    parts::Catalogue catalogue;
    kit::Assembly assembly{car, catalogue};
    nets::Nets nets{assembly};
    CarNetwork network{nets};
};

Probe::Probe(const kit::Car &car, const parts::Catalogue &catalogue)
    : m_model(std::make_unique<Model>(car, catalogue))
{
    set({});
}
Probe::~Probe() = default;
Probe::Probe(Probe &&) noexcept = default;
Probe &Probe::operator=(Probe &&) noexcept = default;

void Probe::set(const Setting &setting)
{
    m_setting = setting;
    const auto &network = m_model->network;
    const auto &members = m_model->nets.all();
    std::vector<Level> levels;
    for (const auto &output : network.outputs()) {
        const auto it = setting.levels.find(members[output.member].name);
        levels.push_back(it == setting.levels.end() ? Level::Low : it->second);
    }
    m_answer = network.solve({setting.charge, setting.held ? Moving::Stalled : Moving::Running,
                              Figures::Typical, setting.switched, false},
                             levels);
    m_wires_A = solved() ? wireAmps(network, m_answer)
                         : std::vector<std::optional<double>>(m_model->car.wires.size());
}

std::vector<std::string> Probe::outputs() const
{
    std::vector<std::string> names;
    for (const bool pins : {true, false})
        for (const auto &o : m_model->network.outputs())
            if (o.pin == pins)
                names.push_back(m_model->nets.all()[o.member].name);
    return names;
}

TerminalReading Probe::at(const std::string &terminal) const
{
    TerminalReading reading;
    const auto *m = m_model->nets.member(terminal);
    if (m == nullptr || !solved())
        return reading;
    const auto index = static_cast<size_t>(m - m_model->nets.all().data());
    const auto &network = m_model->network;
    if (network.isHeld(m_answer, index))
        reading.volts_V = network.ownVolts_V(m_answer, index);
    const auto role = m->terminal->role;
    if (m->part->kind != parts::Kind::Divider && (role == Role::Direction || role == Role::Enable ||
                                                  role == Role::Trigger || role == Role::Signal))
        reading.seen = network.seen(m_answer, index);
    for (const auto &o : network.outputs())
        if (o.member == index) {
            const auto it = m_setting.levels.find(terminal);
            reading.given = it == m_setting.levels.end() ? Level::Low : it->second;
        }
    return reading;
}

std::vector<MotorReading> Probe::motors() const
{
    std::vector<MotorReading> all;
    if (!solved())
        return all;
    const auto &network = m_model->network;
    for (size_t i = 0; i < network.elements().size(); ++i) {
        const auto &e = network.elements()[i];
        if (e.what != What::Motor)
            continue;
        MotorReading r{e.fitted->id, e.fitted->side, 0.0, 0.0};
        const auto a = network.volts_V(m_answer, e.from);
        const auto b = network.volts_V(m_answer, e.to);
        // Lead A the higher one turns it forward on the left side, backward on the right.
        if (a && b)
            r.volts_V = (e.fitted->side == kit::Side::Right ? -1.0 : 1.0) * (*a - *b);
        r.amps_A = std::abs(m_answer.solution.amps_A[i]);
        all.push_back(std::move(r));
    }
    return all;
}

} // namespace badger::circuit
