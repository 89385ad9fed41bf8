// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/shipped.h"

#include "core/io/describe_kit.h"
#include "core/io/parse.h"
#include "embedded/demoWorkshopText.h"
#include "embedded/partsText.h"
#include "embedded/schemaText.h"

#include <cassert>

namespace badger::io
{

namespace
{

struct PartsFile {
    std::vector<parts::Part> parts;
};

template <class A> void describe(A &a, PartsFile &f)
{
    a.required("parts", f.parts);
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

parts::Catalogue catalogueOf(const workshop::Workshop &workshop)
{
    return shippedCatalogue().with(workshop.parts);
}

std::string_view workshopSchema()
{
    return embedded::schemaText;
}
std::string_view demoWorkshop()
{
    return embedded::demoWorkshopText;
}

} // namespace badger::io
