// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/shipped.h"

#include "core/base/id.h"
#include "core/io/describe_kit.h"
#include "core/io/parse.h"
#include "embedded/behavioursText.h"
#include "embedded/demoWorkshopText.h"
#include "embedded/partsText.h"
#include "embedded/schemaText.h"
#include "embedded/startingKitsText.h"

#include <cassert>

namespace badger::io
{

template <class A> void describe(A &a, StartingKit &k)
{
    a.required("name", k.name);
    a.required("line", k.line);
    a.required("car", k.car);
}

namespace
{

struct PartsFile {
    std::vector<parts::Part> parts;
};

template <class A> void describe(A &a, PartsFile &f)
{
    a.required("parts", f.parts);
}

struct KitsFile {
    std::vector<StartingKit> kits;
};

template <class A> void describe(A &a, KitsFile &f)
{
    a.required("kits", f.kits);
}

std::vector<StartingKit> readKits()
{
    auto json = parseJson(embedded::startingKitsText);
    assert(json && "the shipped kits are JSON");
    for (auto &kit : (*json)["kits"]) // a kit's car is a pattern: whoever takes it gives it an id
        kit["car"]["id"] = derivedIdText("kit", kit["name"].get<std::string>());
    std::optional<Error> error;
    KitsFile file;
    Reader reader(*json, "", error);
    describe(reader, file);
    assert(!error && "the shipped kits have the right keys");
    return std::move(file.kits);
}

parts::Catalogue readShipped()
{
    const auto json = parseJson(embedded::partsText);
    assert(json && "the shipped catalogue is JSON");
    std::optional<Error> error;
    PartsFile file;
    Reader reader(*json, "", error);
    describe(reader, file);
    assert(!error && "the shipped catalogue has the right keys");
    return parts::Catalogue(std::move(file.parts));
}

} // namespace

const parts::Catalogue &shippedCatalogue()
{
    static const auto catalogue = readShipped(); // constant data, made on first use
    return catalogue;
}

const std::vector<StartingKit> &startingKits()
{
    static const auto kits = readKits(); // constant data, made on first use
    return kits;
}

parts::Catalogue catalogueOf(const workshop::Workshop &workshop)
{
    return shippedCatalogue().with(workshop.parts);
}

std::string_view workshopSchema()
{
    return embedded::schemaText;
}
std::string_view behaviourTemplates()
{
    return embedded::behavioursText;
}

std::string_view demoWorkshop()
{
    return embedded::demoWorkshopText;
}

} // namespace badger::io
