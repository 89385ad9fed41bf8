// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/csv_file.h"

#include <array>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>

namespace badger::cli
{

Result<tune::CsvColumns> csvFile(const std::string &path, std::vector<tune::WantedColumn> wanted)
{
    std::error_code error;
    if (std::filesystem::is_directory(path, error))
        return fail(Error::Kind::Storage, path, say("it is a folder"), say("name a file"));
    std::FILE *file = path == "-" ? stdin : std::fopen(path.c_str(), "rb");
    if (file == nullptr)
        return fail(Error::Kind::Storage, path,
                    say("it cannot be opened: {}", std::strerror(errno)),
                    say("look at the path and at who may read it"));
    tune::CsvReader reader(path, std::move(wanted));
    std::array<char, 1 << 16> part{};
    while (const auto got = std::fread(part.data(), 1, part.size(), file))
        reader.take({part.data(), got});
    const bool bad = std::ferror(file) != 0;
    if (file != stdin)
        std::fclose(file);
    if (bad)
        return fail(Error::Kind::Storage, path, say("it cannot be read to its end"),
                    say("look at the medium that it lies on"));
    return reader.finish();
}

} // namespace badger::cli
