// SPDX-License-Identifier: GPL-3.0-or-later
// The constants of a program text: named once, in the program's order.
#include "core/boardcode/scope.h"

#include <algorithm>
#include <cmath>

namespace badger::boardcode
{

using rules::ValueKind;

Expr Scope::constant(Type type, const std::string &key, double value, const std::string &comment,
                     const std::vector<std::string> &tags)
{
    const auto id = names.of("constant:" + key, key.substr(key.find(':') + 1), true);
    if (m_constants.count(id) == 0) {
        Item item;
        item.kind = Item::Kind::Constant;
        item.type = type;
        item.name = id;
        item.of = {type == Type::Real ? real(value) : whole(std::llround(value))};
        item.comment = comment;
        item.tags = tags;
        m_constants[id] = item;
        m_order.push_back(id);
    }
    return name(id);
}

Expr Scope::compared(const std::string &value, int sensor)
{
    const auto *v = program.value(value);
    if (v == nullptr || !v->si)
        return whole(0);
    // As machine::lower() keeps it.
    double number = 0.0;
    std::string unit;
    const auto *length = sensor < 0 ? nullptr : machine::lengthOf(program, reading(sensor));
    if (v->kind == ValueKind::Distance && length) {
        number = machine::constantOf(*v, length, !machine.small);
        unit = std::string(" ") + units::info(length->unit).symbol;
    } else {
        number = machine::constantOf(*v, nullptr, !machine.small);
    }
    const bool isInt = isWhole(number) && v->kind != ValueKind::Share;
    const auto type = !isInt ? Type::Real : std::abs(number) > mostWhole ? Type::Long : Type::Whole;
    return constant(type, "value:" + v->name + unit, number, v->meaning, {"value:" + v->name});
}

Expr Scope::micro(const std::string &value)
{
    const auto *v = program.value(value);
    if (v == nullptr || !v->si)
        return whole(0);
    return constant(Type::Time, "value:" + v->name + " us", double(std::llround(*v->si * 1e6)),
                    v->meaning, {"value:" + v->name});
}

Expr Scope::number(const std::string &value)
{
    return compared(value, -1);
}

std::string Scope::speed(const std::string &value)
{
    const auto *v = program.value(value);
    if (v == nullptr || !v->si)
        return "0";
    return constant(Type::Small, "value:" + v->name, double(std::lround(*v->si)),
                    v->meaning.empty() ? "of 255" : v->meaning + ", of 255", {"value:" + v->name})
        .text;
}

std::vector<Item> Scope::constants() const
{
    std::vector<Item> all;
    std::set<std::string> given;
    // The person's own values in their order, then what follows from the car.
    for (const auto &v : program.values)
        for (const auto &id : m_order) {
            const auto &item = m_constants.at(id);
            if (item.tags == std::vector<std::string>{"value:" + v.name} && given.insert(id).second)
                all.push_back(item);
        }
    for (const auto &id : m_order)
        if (given.insert(id).second)
            all.push_back(m_constants.at(id));
    return all;
}

} // namespace badger::boardcode
