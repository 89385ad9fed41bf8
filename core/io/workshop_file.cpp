// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/workshop_file.h"

#include "core/io/check_archive.h"
#include "core/io/describe_workshop.h"
#include "core/io/parse.h"
#include "core/io/schema_archive.h"
#include "core/io/shipped.h"
#include "core/io/upgrade.h"

namespace badger::io
{

namespace
{

using Kind = Error::Kind;

constexpr const char *formatName = "swift-badger-workshop";

/// The envelope: is this a workshop, and of a version this program knows?
Result<void> checkEnvelope(const Json &json)
{
    if (!json.is_object() || !json.contains("format") || json["format"] != formatName)
        return fail(Kind::Malformed, "the file", "is JSON, but not a workshop",
                    fmt::format("a workshop begins with \"format\": \"{}\"", formatName));
    if (!json.contains("version") || !json["version"].is_number_integer())
        return fail(Kind::Malformed, "/version", "there is no whole version number",
                    fmt::format("write \"version\": {}", formatVersion));
    const auto version = json["version"].get<long>();
    if (version > formatVersion)
        return fail(Kind::Conflict, "/version",
                    fmt::format("the file is of version {}, this program knows up to {}", version,
                                formatVersion),
                    "open it with a newer Swift Badger; nothing was changed");
    if (version < 1)
        return fail(Kind::OutOfRange, "/version",
                    fmt::format("{} is not a version of this format", version),
                    fmt::format("write {}", formatVersion));
    return {};
}

} // namespace

namespace
{

Result<workshop::Workshop> fill(Json json)
{
    json.erase("format");
    json.erase("version");
    workshop::Workshop workshop;
    std::optional<Error> error;
    Reader reader(json, "", error);
    describe(reader, workshop);
    if (error)
        return tl::unexpected(*error);
    return workshop;
}

Json toJson(const workshop::Workshop &workshop)
{
    auto copy = workshop; // the description takes both directions, so it wants a mutable value
    Writer writer;
    describe(writer, copy);
    auto all = Json::object();
    all["format"] = formatName;
    all["version"] = formatVersion;
    all.update(writer.take());
    return all;
}

template <class T> void takeNew(const Pieces<T> &after, const Pieces<T> &before, Pieces<T> &out)
{
    if (after.shares(before))
        return;
    for (size_t i = 0; i < after.size(); ++i)
        if (i >= before.size() || after.piece(i) != before.piece(i))
            out.share(after, i);
}

} // namespace

Result<workshop::Workshop> readWorkshop(std::string_view text)
{
    auto json = parseJson(text);
    if (!json)
        return tl::unexpected(json.error());
    if (auto ok = checkEnvelope(*json); !ok)
        return tl::unexpected(ok.error());
    const auto leadsNowhere = (*json)["version"] == 1 ? upgradeFrom1(*json) : std::nullopt;
    auto workshop = fill(std::move(*json));
    if (!workshop)
        return workshop;
    if (leadsNowhere)
        return tl::unexpected(*leadsNowhere);
    if (auto ok = verify(*workshop); !ok)
        return tl::unexpected(ok.error());
    return workshop;
}

std::string writeWorkshop(const workshop::Workshop &workshop)
{
    return toJson(workshop).dump(2) + "\n";
}

std::string makeSchema()
{
    workshop::Workshop any;
    SchemaMaker maker;
    describe(maker, any);
    auto made = maker.take();
    auto properties = Json{{"format", {{"enum", {formatName}}}},
                           {"version", {{"type", "integer"}, {"minimum", 1}}}};
    properties.update(made["properties"]);
    auto required = Json{"format", "version"};
    required.insert(required.end(), made["required"].begin(), made["required"].end());
    const Json all = {
        {"$schema", "http://json-schema.org/draft-07/schema#"},
        {"title", "Swift Badger workshop"},
        {"description",
         "One workshop: its own parts, cars, programs, floors, measured trials and bench "
         "records. "
         "Numbers are SI or carry their unit in the key. Unknown keys are allowed "
         "everywhere and are kept."},
        {"type", "object"},
        {"properties", properties},
        {"required", required}};
    return all.dump(1) + "\n";
}

Result<void> takesBack(const workshop::Workshop &after, const workshop::Workshop &before,
                       const parts::Catalogue &catalogue)
{
    workshop::Workshop asked;
    asked.name = after.name;
    asked.bench = after.bench;
    takeNew(after.parts, before.parts, asked.parts);
    takeNew(after.cars, before.cars, asked.cars);
    takeNew(after.programs, before.programs, asked.programs);
    takeNew(after.floors, before.floors, asked.floors);
    takeNew(after.trials, before.trials, asked.trials);
    takeNew(after.records, before.records, asked.records);
    std::optional<Error> error;
    Checker checker("", error);
    describe(checker, asked);
    if (error)
        return tl::unexpected(*error);
    return verifyEdit(after, before, catalogue);
}

} // namespace badger::io
