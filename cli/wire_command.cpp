// SPDX-License-Identifier: GPL-3.0-or-later
// The harness that kit and program ask for.
#include "cli/workshop_commands.h"
#include "cli/workshop_pick.h"
#include "core/io/storage.h"
#include "core/io/workshop_file.h"
#include "core/wireup/proposal.h"

#include <algorithm>

namespace badger::cli
{

namespace
{

Json jsonOf(const wireup::Proposal &p)
{
    auto wires = Json::array();
    for (const auto &w : p.wires) {
        wires.push_back(wireJson(w.wire));
        wires.back()["why"] = w.why;
        wires.back()["module"] = w.module;
    }
    auto parts = Json::array();
    for (const auto &b : p.parts)
        parts.push_back({{"id", b.id}, {"part", b.partId}, {"why", b.why}});
    auto kept = Json::array();
    for (const auto &w : p.kept)
        kept.push_back(wireJson(w));
    auto wrong = Json::array();
    for (const auto &w : p.wrong) {
        wrong.push_back(wireJson(w.wire));
        wrong.back()["what"] = w.what;
    }
    auto waiting = Json::array();
    for (const auto &w : p.waiting)
        waiting.push_back(wireJson(w));
    auto impossible = Json(nullptr);
    if (p.impossible) {
        auto frees = Json::array();
        for (const auto &way : p.impossible->frees)
            frees.push_back({{"what", way.what}, {"cost", way.cost}});
        impossible = {{"why", p.impossible->why}, {"frees", frees}};
    }
    return {{"wires", wires},
            {"parts", parts},
            {"jumpers", p.jumpers},
            {"noted", p.noted},
            {"kept", kept},
            {"wrong", wrong},
            {"waiting", waiting},
            {"complete", p.complete()},
            {"impossible", impossible},
            {"findings", findingsJson(p.left)}};
}

std::string wrongText(const wireup::Proposal &p)
{
    std::string text;
    for (const auto &w : p.wrong)
        text += fmt::format("wrong, left as it is: {} to {}; {}\n", w.wire.from, w.wire.to, w.what);
    return text;
}

std::string textOf(const wireup::Proposal &p)
{
    std::string text;
    if (p.impossible) {
        text = fmt::format("no harness: {}\n", p.impossible->why);
        for (const auto &way : p.impossible->frees)
            text += fmt::format("what would free it: {}; {}\n", way.what, way.cost);
        return text + wrongText(p);
    }
    for (const auto &b : p.parts)
        text += fmt::format("one more part: {} as {}; {}\n", b.partId, b.id, b.why);
    for (const auto &j : p.jumpers)
        text += fmt::format("put the jumper on {}\n", j);
    for (const auto &n : p.noted)
        text += fmt::format("taken as said: {}\n", n);
    std::vector<std::vector<Say>> rows = {{"", "from", "to", "colour", "why"}};
    for (size_t i = 0; i < p.wires.size(); ++i)
        rows.push_back({std::to_string(i + 1), p.wires[i].wire.from, p.wires[i].wire.to,
                        p.wires[i].wire.colour, p.wires[i].why});
    if (!p.wires.empty())
        text += aligned(rows);
    else if (p.empty() && p.wrong.empty())
        text += "nothing to do: every wire that kit and program ask for is there\n";
    if (!p.kept.empty())
        text += fmt::format("{} {} there already and {}\n", p.kept.size(),
                            p.kept.size() == 1 ? "wire is" : "wires are",
                            p.kept.size() == 1 ? "stays" : "stay");
    text += wrongText(p);
    for (const auto &w : p.waiting)
        text += fmt::format("waits for that mend: {} to {}\n", w.from, w.to);
    text += findingsText(p.left);
    text += "Before power: look the harness over against the makers' sheets, with the pack off.\n";
    return text;
}

} // namespace

Result<Answer> wire(const std::string &file, const std::string &carName, const std::string &module,
                    const Output &out)
{
    auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto &catalogue = p->opened.catalogue;
    if (!module.empty() && p->car.instance(module) == nullptr) {
        std::vector<std::string> ids;
        for (const auto &i : p->car.parts)
            ids.push_back(i.id);
        return fail(Error::Kind::Missing, "--module",
                    fmt::format("{} has no part '{}'", p->car.name, module),
                    fmt::format("it has {}", fmt::join(ids, ", ")));
    }
    auto proposal = wireup::proposal(p->car, catalogue);
    if (!module.empty() && !proposal.impossible)
        proposal = wireup::moduleOf(proposal, catalogue, module);
    Answer a;
    if (!proposal.impossible) {
        auto w = p->opened.workshop;
        for (auto &c : w.cars)
            if (c.id == p->car.id)
                c = proposal.car;
        if (auto ok = io::takesBack(w, p->opened.workshop, catalogue); !ok)
            return tl::unexpected(ok.error());
        if (const auto saved = io::saveOutput(out.path, io::writeWorkshop(w), out.replace, file);
            !saved)
            return tl::unexpected(saved.error());
    }
    a.text = textOf(proposal);
    a.json = jsonOf(proposal);
    a.json["out"] = proposal.impossible ? Json(nullptr) : Json(out.path);
    a.hasError = proposal.impossible || hasError(proposal.left);
    return a;
}

} // namespace badger::cli
