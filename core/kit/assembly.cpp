// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/assembly.h"

#include <algorithm>

namespace badger::kit
{

namespace
{

template <class Is> const Fitted *firstThat(const std::vector<Fitted> &fitted, Is is)
{
    const auto it = std::find_if(fitted.begin(), fitted.end(), is);
    return it == fitted.end() ? nullptr : &*it;
}

} // namespace

Assembly::Assembly(const Car &car, const parts::Catalogue &catalogue)
    : m_car(&car), m_catalogue(catalogue)
{
    m_fitted.reserve(car.parts.size());
    for (const auto &instance : car.parts)
        if (const auto *part = catalogue.find(instance.partId))
            m_fitted.push_back({&instance, part});
}

const Fitted *Assembly::find(std::string_view id) const
{
    return firstThat(m_fitted, [&](const Fitted &f) { return f.instance->id == id; });
}

const parts::Part *Assembly::part(const Instance &instance) const
{
    const auto *f = firstThat(m_fitted, [&](const Fitted &x) { return x.instance == &instance; });
    return f ? f->part : m_catalogue.find(instance.partId);
}

const parts::Terminal *Assembly::terminal(std::string_view name) const
{
    const auto dot = name.find('.');
    if (dot == std::string_view::npos)
        return nullptr;
    const auto *f = find(name.substr(0, dot));
    return f ? f->part->terminal(name.substr(dot + 1)) : nullptr;
}

const Instance *Assembly::first(parts::Kind kind) const
{
    const auto *f = firstThat(m_fitted, [&](const Fitted &x) { return x.part->kind == kind; });
    return f ? f->instance : nullptr;
}

const Instance *Assembly::motorOn(Side side) const
{
    const auto *f = firstThat(m_fitted, [&](const Fitted &x) {
        return x.part->kind == parts::Kind::Motor && x.instance->side == side;
    });
    return f ? f->instance : nullptr;
}

std::optional<double> Assembly::packVolts_V(Charge charge) const
{
    const auto *pack = first(parts::Kind::Cell);
    return pack ? sourceVolts_V(*pack, m_catalogue, charge) : std::nullopt;
}

} // namespace badger::kit
