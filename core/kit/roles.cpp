// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/roles.h"

#include <algorithm>
#include <cmath>

namespace badger::kit
{

namespace
{

struct Placed {
    const Instance *instance;
    Mount mount;
};

std::vector<Placed> placed(const Assembly &car, parts::Kind kind)
{
    std::vector<Placed> all;
    for (const auto &f : car.fitted())
        if (f.part->kind == kind) {
            const auto *mount = mountOf(car, *f.instance);
            all.push_back({f.instance, mount ? *mount : Mount{}});
        }
    return all;
}

} // namespace

std::map<std::string, std::string> roles(const Assembly &car)
{
    std::map<std::string, std::string> all;
    const auto rangers = placed(car, parts::Kind::Ranger);
    for (const auto &r : rangers) {
        auto &ahead = all["ranger"];
        const auto other = std::find_if(rangers.begin(), rangers.end(),
                                        [&](const Placed &p) { return p.instance->id == ahead; });
        if (other == rangers.end() || std::abs(r.mount.yaw_rad) < std::abs(other->mount.yaw_rad))
            ahead = r.instance->id;
        if (!r.instance->carriedBy.empty())
            all["servo"] = r.instance->carriedBy;
        if (r.mount.yaw_rad > aheadWithin_rad)
            all["left-ranger"] = r.instance->id;
        if (r.mount.yaw_rad < -aheadWithin_rad)
            all["right-ranger"] = r.instance->id;
    }
    for (const auto kind : {parts::Kind::Light, parts::Kind::Reflectance})
        if (const auto *eye = car.first(kind))
            all["eye"] = eye->id;
    if (const auto *button = car.first(parts::Kind::Button))
        all["button"] = button->id;
    auto eyes = placed(car, parts::Kind::Infrared);
    std::stable_sort(eyes.begin(), eyes.end(), [](const Placed &a, const Placed &b) {
        return a.mount.offset_m > b.mount.offset_m;
    });
    if (!eyes.empty()) {
        const auto foremost =
            std::min_element(eyes.begin(), eyes.end(), [](const Placed &a, const Placed &b) {
                return a.mount.setBack_m < b.mount.setBack_m;
            });
        all["edge"] = foremost->instance->id;
    }
    if (eyes.size() > 1) {
        all["left-eye"] = eyes.front().instance->id;
        all["right-eye"] = eyes.back().instance->id;
    }
    if (const auto *strip = car.first(parts::Kind::Strip)) {
        int pair = 0;
        for (const char *role : {"outer-left", "inner-left", "inner-right", "outer-right"})
            all[role] = strip->id + ".OUT" + std::to_string(++pair);
    }
    return all;
}

} // namespace badger::kit
