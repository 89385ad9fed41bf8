// SPDX-License-Identifier: GPL-3.0-or-later
// Board programs and part tests, written to files.
#include "cli/workshop_commands.h"
#include "cli/workshop_pick.h"
#include "core/boardcode/board_code.h"
#include "core/boardcode/part_tests.h"
#include "core/io/storage.h"
#include "core/judge/judge.h"
#include "core/judge/program_around.h"

#include <filesystem>
#include <fmt/format.h>

namespace badger::cli
{

namespace
{

/// The files of a board program; its version where it is one.
struct Written {
    std::vector<boardcode::BoardFile> files;
    std::optional<int> version;
};

Result<Written> partTestsFor(const std::string &file, const std::string &carName)
{
    const auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    return boardcode::partTests({p->car, p->opened.catalogue}, p->opened.workshop.name)
        .map([](std::vector<boardcode::BoardFile> files) {
            return Written{std::move(files), {}};
        });
}

Result<Written> programFor(const std::string &file, const std::string &carName, const Coding &how)
{
    const auto p = pick(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const kit::Assembly car(p->car, p->opened.catalogue);
    auto writing = judge::writing(p->opened.workshop, car, p->program);
    if (!how.style.empty())
        writing.style = how.style == "timed" ? boardcode::Style::Timed : boardcode::Style::Blocking;
    auto code = boardcode::boardCode(p->program, car, writing);
    if (!code)
        return tl::unexpected(code.error());
    const auto judgement = judge::judge(p->opened.workshop, car, nullptr, judge::Runs::Later);
    for (const auto &error : judge::errorsAgainstWriting(judgement))
        writing.warnings.push_back(english(error));
    if (!writing.warnings.empty()) {
        auto first = writing.warnings.front();
        if (first.ends_with('.'))
            first.pop_back();
        if (!how.despiteErrors)
            return fail(Error::Kind::Conflict, say("car '{}'", p->car.name),
                        say("its check finds {0} {0|error|errors}; the first is {1}",
                            writing.warnings.size(), first),
                        say("mend them, or write it all the same with --despite-errors"));
        code = boardcode::boardCode(p->program, car, writing);
    }
    return Written{std::move(code->files), p->program.version};
}

} // namespace

namespace
{

/// Fails before anything is written when one of the files may not be. A file that holds the same
/// text already is no conflict.
Result<void> allFree(const std::vector<boardcode::BoardFile> &files, const Output &folder,
                     const std::string &input)
{
    for (const auto &f : files) {
        const auto path = (std::filesystem::path(folder.path) / f.name).string();
        const auto there = io::readFile(path);
        if (there && *there == f.text)
            continue;
        if (auto ok = io::outputIsFree(path, folder.replace, input); !ok)
            return ok;
    }
    return {};
}

} // namespace

Result<Answer> code(const std::string &file, const std::string &carName, const Coding &how)
{
    const auto &folder = how.folder;
    const auto written =
        how.partTests ? partTestsFor(file, carName) : programFor(file, carName, how);
    if (!written)
        return tl::unexpected(written.error());
    std::error_code error;
    std::filesystem::create_directories(folder.path, error);
    if (error)
        return fail(Error::Kind::Storage, folder.path,
                    "the folder cannot be made: " + error.message(),
                    "choose a folder you may write to");
    if (auto ok = allFree(written->files, folder, file); !ok)
        return tl::unexpected(ok.error());
    Answer a;
    a.json = {{"files", Json::array()},
              {"version", written->version ? Json(*written->version) : Json(nullptr)}};
    for (const auto &f : written->files) {
        const auto path = (std::filesystem::path(folder.path) / f.name).string();
        if (const auto saved = io::saveFile(path, f.text); !saved)
            return tl::unexpected(saved.error());
        a.text += path + "\n";
        a.json["files"].push_back(path);
    }
    return a;
}

} // namespace badger::cli
