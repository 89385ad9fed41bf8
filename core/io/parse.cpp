// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/parse.h"

#include "core/base/medium.h"

#include <algorithm>
#include <cctype>
#include <cstring>
#include <memory>
#include <mutex>
#include <unordered_set>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

namespace badger::io
{

namespace
{

constexpr int deepest = 64;
constexpr size_t mostKeys = 2000; // each key of an object is compared with those before it

Say placeOf(std::string_view text, size_t byte)
{
    const auto before = text.substr(0, std::min(byte, text.size()));
    const auto line = std::count(before.begin(), before.end(), '\n') + 1;
    const auto lastEnd = before.rfind('\n');
    const auto column =
        lastEnd == std::string_view::npos ? before.size() : before.size() - lastEnd - 1;
    return say("line {}, column {}", line, column);
}

/// The part of the library's message that a person can use.
std::string plainReason(const std::string &message)
{
    const auto at = message.rfind("; last read");
    const auto colon = message.find(": syntax error");
    if (colon == std::string::npos)
        return message;
    return message.substr(colon + 2, at == std::string::npos ? at : at - colon - 2);
}

/// Looks at the events of a text before a value is built from it: nesting, doubled keys, and what
/// is no JSON. (The library's own callback while building takes time with the square of a list.)
class Look final : public nlohmann::json_sax<Json>
{
public:
    explicit Look(std::string_view text) : m_text(text) {}

    std::optional<Error> error;

    bool null() override { return true; }
    bool boolean(bool) override { return true; }
    bool number_integer(number_integer_t) override { return true; }
    bool number_unsigned(number_unsigned_t) override { return true; }
    bool number_float(number_float_t, const string_t &) override { return true; }
    bool string(string_t &) override { return true; }
    bool binary(binary_t &) override { return true; }

    bool start_object(std::size_t) override
    {
        m_keys.emplace_back();
        return deeper();
    }
    bool end_object() override
    {
        m_keys.pop_back();
        --m_depth;
        return true;
    }
    bool start_array(std::size_t) override { return deeper(); }
    bool end_array() override
    {
        --m_depth;
        return true;
    }

    bool key(string_t &name) override
    {
        if (!m_keys.back().insert(name).second)
            return refuse(
                Error::Kind::Malformed,
                say("the key '{}' stands twice in one object", medium::shortened(name, 40)),
                say("keep one of the two"));
        if (m_keys.back().size() > mostKeys)
            return refuse(Error::Kind::OutOfRange, say("an object has more than {} keys", mostKeys),
                          say("this is not a workshop"));
        return true;
    }

    bool parse_error(std::size_t byte, const std::string &,
                     const nlohmann::detail::exception &e) override
    {
        constexpr int outOfRange = 406;
        const std::string what = e.what();
        if (e.id == outOfRange) {
            const auto bracket = what.find("] ");
            return refuse(Error::Kind::Malformed,
                          bracket == std::string::npos ? what : what.substr(bracket + 2),
                          say("write a smaller number"));
        }
        error = Error{Error::Kind::Malformed, placeOf(m_text, byte),
                      say("this is not JSON: {}", plainReason(what)),
                      say("mend that line, or open a backup")};
        return false;
    }

private:
    bool refuse(Error::Kind kind, const Say &what, const Say &mend)
    {
        error = Error{kind, say("the file"), what, mend};
        return false;
    }
    bool deeper()
    {
        if (++m_depth <= deepest)
            return true;
        return refuse(Error::Kind::Malformed, say("is nested more than {} levels deep", deepest),
                      say("this is not a workshop"));
    }

    std::string_view m_text;
    std::vector<std::unordered_set<std::string>> m_keys;
    int m_depth = 0;
};

} // namespace

Result<Json> parseJson(std::string_view text)
{
    Look look(text);
    if (!Json::sax_parse(text.begin(), text.end(), &look))
        return tl::unexpected(
            look.error.value_or(Error{Error::Kind::Malformed, say("the file"),
                                      say("this is not JSON"), say("open a backup")}));
    return Json::parse(text.begin(), text.end(), nullptr, false);
}

namespace
{

std::string shortened(const Json &value, const std::string &pointer)
{
    try {
        constexpr size_t longest = 40;
        return medium::shortened(value.at(Json::json_pointer(pointer)).dump(), longest);
    } catch (const nlohmann::json::exception &) {
        return {};
    }
}

/// The part of a schema that speaks about a place, with references followed; null where none does.
const nlohmann::json *schemaAt(const nlohmann::json &root, const std::vector<std::string> &steps)
{
    const auto *at = &root;
    for (const auto &step : steps) {
        if (at->contains("properties") && (*at)["properties"].contains(step))
            at = &(*at)["properties"][step];
        else if (at->contains("items"))
            at = &(*at)["items"];
        else if (at->contains("additionalProperties"))
            at = &(*at)["additionalProperties"];
        else
            return nullptr;
        if (at->contains("$ref")) {
            const auto name = (*at)["$ref"].get<std::string>().substr(strlen("#/definitions/"));
            at = &root["definitions"][name];
        }
    }
    return at;
}

/// What a schema wants, in words: "a number from 0.02 to 2".
Say wanted(const nlohmann::json &schema)
{
    if (schema.contains("enum")) {
        std::vector<Say> all;
        for (const auto &w : schema["enum"])
            all.emplace_back(w.dump());
        return say("one of {}", joined(all, ", "));
    }
    const auto type = schema.value("type", "");
    Say words = type == "number"    ? say("a number")
                : type == "integer" ? say("a whole number")
                : type == "string"  ? say("a text")
                : type == "boolean" ? say("true or false")
                : type == "array"   ? say("a list")
                                    : say("an object");
    if (schema.contains("minimum"))
        words += say(" from {}", schema["minimum"].dump());
    if (schema.contains("maximum"))
        words += say(" to {}", schema["maximum"].dump());
    if (schema.contains("maxItems"))
        words += say(" of at most {} entries", schema["maxItems"].dump());
    if (schema.contains("maxLength"))
        words += say(" of at most {} characters", schema["maxLength"].dump());
    if (schema.contains("minLength"))
        words += say(", not empty");
    return words;
}

/// valijson writes a place as <root>[cars][0][name].
std::vector<std::string> stepsOf(const std::vector<std::string> &context)
{
    std::vector<std::string> steps;
    for (const auto &step : context)
        if (step != "<root>")
            steps.push_back(step.size() > 2 && step.front() == '[' && step.back() == ']'
                                ? step.substr(1, step.size() - 2)
                                : step);
    return steps;
}

/// The unit that the key of a number carries, with a space before it.
std::string unitOf(const std::vector<std::string> &steps)
{
    static const std::vector<std::pair<std::string, std::string>> units = {
        {"_m_s", " m/s"}, {"_m", " m"},     {"_s", " s"},    {"_V", " V"},
        {"_A", " A"},     {"_rad", " rad"}, {"_degC", " °C"}};
    for (const auto &[ending, unit] : units)
        if (!steps.empty() && steps.back().ends_with(ending))
            return unit;
    return {};
}

/// A schema ready for use. Building one costs more than using it, and every edit is checked.
struct Compiled {
    nlohmann::json json;
    valijson::Schema schema;
};

const Compiled &compiled(std::string_view text)
{
    static std::map<std::string, std::unique_ptr<Compiled>, std::less<>> known; // constant texts
    static std::mutex guard;
    const std::lock_guard lock(guard);
    auto it = known.find(text);
    if (it == known.end()) {
        auto fresh = std::make_unique<Compiled>();
        fresh->json = nlohmann::json::parse(text);
        valijson::SchemaParser parser;
        const valijson::adapters::NlohmannJsonAdapter adapter(fresh->json);
        parser.populateSchema(adapter, fresh->schema);
        it = known.emplace(std::string(text), std::move(fresh)).first;
    }
    return *it->second;
}

/// Asked for no reasons, the validator stops at the first misfit.
bool fits(const nlohmann::json &value, const valijson::Schema &schema)
{
    valijson::Validator validator(valijson::Validator::kStrongTypes);
    const valijson::adapters::NlohmannJsonAdapter target(value);
    return validator.validate(schema, target, nullptr);
}

/// Cuts every list of a misfit down to the shortest beginning that still does not fit, so that only
/// the first misfit is left: with reasons, a hundred thousand of them would take seconds each.
void narrow(nlohmann::json &root, nlohmann::json &part, const valijson::Schema &schema)
{
    if (part.is_object()) {
        for (auto &[key, value] : part.items())
            if (value.is_structured())
                narrow(root, value, schema);
        return;
    }
    if (!part.is_array() || part.empty())
        return;
    const auto all = part;
    const auto cut = [&](size_t length) {
        part = nlohmann::json(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(length));
        if (length == 0)
            part = nlohmann::json::array();
        return fits(root, schema);
    };
    // Doubling first: a misfit near the beginning is found without looking at the end.
    size_t fine = 0;
    size_t wrong = 0;
    for (size_t n = 0; wrong == 0 && fine < all.size();
         n = n == 0 ? 1 : std::min(2 * n, all.size())) {
        if (!cut(n)) {
            if (n == 0)
                return; // the misfit is elsewhere
            wrong = n;
        } else if (n == all.size()) {
            break;
        } else {
            fine = n;
        }
    }
    while (wrong > fine + 1) {
        const size_t middle = (fine + wrong) / 2;
        (cut(middle) ? fine : wrong) = middle;
    }
    (void)cut(wrong);
    if (wrong > 0)
        narrow(root, part.back(), schema);
}

} // namespace

Result<void> fitsSchema(const Json &value, std::string_view schemaText)
{
    // The adapter is written for the library's unordered type.
    auto plain = nlohmann::json::parse(value.dump());
    const auto &[schemaJson, schema] = compiled(schemaText);
    if (fits(plain, schema))
        return {};
    narrow(plain, plain, schema);
    valijson::Validator validator(valijson::Validator::kStrongTypes);
    valijson::ValidationResults results;
    const valijson::adapters::NlohmannJsonAdapter target(plain);
    (void)validator.validate(schema, target, &results);
    std::optional<valijson::ValidationResults::Error> deepestError;
    valijson::ValidationResults::Error next;
    while (results.popError(next))
        if (!deepestError || next.context.size() > deepestError->context.size())
            deepestError = next;
    if (!deepestError)
        return fail(Error::Kind::Malformed, say("the file"), say("does not fit the schema"), "");
    const auto steps = stepsOf(deepestError->context);
    std::string pointer;
    for (const auto &step : steps)
        pointer += "/" + escapedPointer(step);
    const auto place = pointer.empty() ? say("the file") : pointer;
    const auto lacks = deepestError->description.find("Missing required property '");
    if (lacks == 0) {
        const auto key = deepestError->description.substr(strlen("Missing required property '"));
        return fail(Error::Kind::Missing, place,
                    say("the key '{}' is missing", key.substr(0, key.find('\''))), say("add it"));
    }
    const auto *part = schemaAt(schemaJson, steps);
    const auto found = shortened(value, pointer);
    const bool isNumber = !found.empty() && (found[0] == '-' || std::isdigit(found[0]));
    const bool wantsNumber = part && part->contains("maximum");
    return fail(Error::Kind::Malformed, place,
                say("{}{} does not fit", found, isNumber ? unitOf(steps) : ""),
                part ? say("it should be ") + wanted(*part) + (wantsNumber ? unitOf(steps) : "")
                     : deepestError->description);
}

} // namespace badger::io
