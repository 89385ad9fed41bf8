// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/floor_file.h"

#include "core/io/describe_workshop.h"
#include "core/io/parse.h"

namespace badger::io
{

namespace
{
constexpr const char *formatName = "swift-badger-floor";
constexpr int newest = 1;
} // namespace

std::string writeFloor(const floor::Floor &floor)
{
    auto copy = floor; // the description takes both directions
    Writer writer;
    describe(writer, copy);
    auto all = Json::object();
    all["format"] = formatName;
    all["version"] = newest;
    all.update(writer.take());
    return all.dump(2) + "\n";
}

Result<floor::Floor> readFloor(std::string_view text)
{
    auto json = parseJson(text);
    if (!json)
        return tl::unexpected(json.error());
    if (!json->is_object() || !json->contains("format") || (*json)["format"] != formatName)
        return fail(Error::Kind::Malformed, "the file", say("is JSON, but no floor"),
                    fmt::format("a floor begins with \"format\": \"{}\"", formatName));
    if (!json->contains("version") || (*json)["version"] != newest)
        return fail(Error::Kind::Conflict, "/version", say("it is not {}", newest),
                    say("open it with the Swift Badger that wrote it"));
    json->erase("format");
    json->erase("version");
    floor::Floor floor;
    std::optional<Error> error;
    Reader reader(*json, "", error);
    describe(reader, floor);
    if (error)
        return tl::unexpected(*error);
    return floor;
}

} // namespace badger::io
