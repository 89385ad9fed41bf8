// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/families.h"

#include "core/io/shipped.h"
#include "core/io/templates.h"
#include "core/io/workshop_file.h"
#include "core/judge/program_around.h"
#include "core/kit/roles.h"

#include <cstdio>
#include <cstdlib>

namespace badger::test
{

namespace
{

std::map<std::string, std::string> echoes(std::map<std::string, std::string> more)
{
    more.merge(std::map<std::string, std::string>{
        {"air", "20C"}, {"limit", "200cm"}, {"no-echo", "clear"}});
    return more;
}

} // namespace

const std::vector<Family> &families()
{
    static const std::map<std::string, std::string> looks = {{"speed", "140"},
                                                             {"turn-speed", "130"},
                                                             {"angles", "30,150"},
                                                             {"dwell", "300ms"},
                                                             {"back-time", "400ms"},
                                                             {"turn-time-left", "420ms"},
                                                             {"turn-time-right", "420ms"},
                                                             {"wait", "40ms"}};
    const auto with = [](std::map<std::string, std::string> all,
                         std::map<std::string, std::string> more) {
        all.merge(more);
        return echoes(all);
    };
    static const std::map<std::string, std::string> turns = {{"threshold", "30cm"},
                                                             {"speed", "140"},
                                                             {"turn-speed", "130"},
                                                             {"back-time", "400ms"},
                                                             {"wait", "40ms"}};
    static const std::vector<Family> all = {
        {"halt", "Avocet", echoes({{"threshold", "32cm"}, {"speed", "140"}, {"wait", "58ms"}})},
        {"retreat", "Avocet", echoes({{"threshold", "30cm"}, {"speed", "140"}, {"wait", "40ms"}})},
        {"keep-station", "Sanderling",
         echoes({{"near", "18cm"},
                 {"far", "45cm"},
                 {"speed", "130"},
                 {"lost-after", "3"},
                 {"wait", "10ms"}})},
        {"back-and-turn", "Avocet", with(turns, {{"turn-time", "400ms"}, {"turn-side", "left"}})},
        {"turn-away", "Ruff",
         echoes({{"threshold", "25cm"},
                 {"speed", "150"},
                 {"turn-speed", "120"},
                 {"turn-side", "right"},
                 {"wait", "50ms"}})},
        {"back-and-wander", "Avocet",
         with(turns, {{"turn-least", "300ms"}, {"turn-most", "700ms"}})},
        {"glance", "Curlew",
         with(looks, {{"threshold", "28cm"}, {"tie", "back"}, {"tolerance", "4cm"}})},
        {"first-free-side", "Curlew",
         with(looks, {{"threshold", "30cm"}, {"free", "40cm"}, {"turn-around", "900ms"}})},
        {"fan", "Redshank",
         echoes({{"threshold", "30cm"},
                 {"speed", "140"},
                 {"turn-speed", "130"},
                 {"dwell", "260ms"},
                 {"sweep-dwell", "80ms"},
                 {"sweep-angles", "80,90,100"},
                 {"angles", "40,50,60,70,80,90,100,110,120,130,140"},
                 {"per-degree", "9ms"},
                 {"back-time", "400ms"},
                 {"beyond", "limit"}})},
        {"fixed-rangers", "Sanderling",
         echoes({{"threshold", "30cm"},
                 {"speed", "130"},
                 {"turn-speed", "120"},
                 {"tie", "left"},
                 {"tolerance", "3cm"},
                 {"wait", "10ms"}})},
        {"table-edge",
         "Godwit",
         {{"threshold", "400"},
          {"speed", "120"},
          {"turn-speed", "110"},
          {"turn-side", "left"},
          {"back-time", "500ms"},
          {"turn-time", "500ms"},
          {"wait", "5ms"}}},
        {"wall-hold",
         "Godwit",
         {{"edge", "left"},
          {"near", "500"},
          {"far", "700"},
          {"speed", "110"},
          {"source", "raw"},
          {"gain", "0.5"},
          {"wait", "10ms"}}},
        {"hand-follow",
         "Godwit",
         {{"near", "700"}, {"far", "300"}, {"speed", "110"}, {"wait", "10ms"}}},
        {"straddle",
         "Dunlin",
         {{"both-dark", "stop"},
          {"speed", "120"},
          {"turn-speed", "120"},
          {"light-level", "1"},
          {"wait", "5ms"}}},
        {"edge-glide",
         "Godwit",
         {{"edge", "left"},
          {"light", "807"},
          {"dark", "215"},
          {"speed", "110"},
          {"gain", "0.6"},
          {"wait", "10ms"}}},
        {"edge-zigzag",
         "Godwit",
         {{"edge", "left"}, {"threshold", "511"}, {"speed", "110"}, {"wait", "10ms"}}},
        {"lane",
         "Plover",
         {{"speed", "110"}, {"turn-speed", "110"}, {"light-level", "1"}, {"wait", "5ms"}}},
        {"direct", "Turnstone", {{"crossed", "no"}, {"light-level", "1"}}},
        {"guarded-drive", "Whimbrel",
         echoes({{"threshold", "30cm"},
                 {"speed", "130"},
                 {"turn-speed", "110"},
                 {"lost-signal", "600ms"},
                 {"wait", "40ms"}})}};
    return all;
}

judge::Course courseOf(const Family &family, std::shared_ptr<const floor::Floor> floor)
{
    static const auto workshop = *io::readWorkshop(io::demoWorkshop());
    static const auto catalogue = io::catalogueOf(workshop);
    const auto &car = *workshop.car(family.car);
    auto program = io::fromTemplate(family.name, family.choices, kit::roles({car, catalogue}),
                                    {"made"}, family.name);
    if (!program) {
        std::fprintf(stderr, "%s: %s\n", family.name, english(program.error().text()).c_str());
        std::abort();
    }
    return {std::make_shared<kit::Car>(car), std::make_shared<rules::Program>(*program),
            std::move(floor), judge::recordsOf(workshop, car), catalogue};
}

} // namespace badger::test
