// SPDX-License-Identifier: GPL-3.0-or-later
// Finds the nodes and branches of a car. Only car_network.cpp asks.
#pragma once

#include "core/circuit/car_network.h"

namespace badger::circuit
{

class Maker
{
public:
    explicit Maker(CarNetwork &into) : m_in(into), m_all(into.m_nets.all()) {}
    void make();

private:
    void findNodes();
    void findGrounds();
    void findOutputs();
    void findBridges();
    void addParts();
    void addPart(size_t first, size_t end);
    void addBoard(size_t first, size_t end);
    void addSensor(size_t first, size_t end);
    void addDriver(size_t first, size_t end);
    void addRegulators(size_t first, size_t end);
    void add(What what, size_t from, size_t to, Curve curve = Curve::open(),
             size_t output = noMember);
    void addBetween(What what, int from, int to, const Element &as);
    size_t find(size_t first, size_t end, std::string_view name) const;
    size_t logicRail(size_t first, size_t end) const;
    int node(size_t member);
    bool drivesSomething(size_t pin) const;

    CarNetwork &m_in;
    const std::vector<nets::Member> &m_all;
    std::vector<size_t> m_root; ///< of a member's conductor
    std::map<size_t, int> m_nodeOfRoot;
    std::map<size_t, int> m_rails; ///< of a board's pins, by its first member
};

/// What a pin's output stage has: choice of ours, a tenth of the logic volts at the advised
/// current.
double pinOhm(const parts::Part &board);

/// By node: those that more than a leak joins have one number, that of the least of them.
std::vector<int> islands(const Network &network, const Solution &solution);

} // namespace badger::circuit
