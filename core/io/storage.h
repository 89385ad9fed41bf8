// SPDX-License-Identifier: GPL-3.0-or-later
// How does text get to the disk and back without ever losing what was there?
#pragma once

#include "core/base/result.h"

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace badger::io
{

/// A workshop is never larger; a file that is, is refused before it is read.
inline constexpr std::uint64_t largestFile_bytes = 32u << 20;

/// What stood in a file: for noticing that another program changed it.
using ContentMark = std::uint64_t;
ContentMark markOf(std::string_view text);

/// The text of a file. Refuses, with the reason in words: no such file, a folder, no permission,
/// a device or pipe, larger than `largestFile_bytes`.
Result<std::string> readFile(const std::string &path);

/// The steps of a save, in order.
enum class SaveStep { Create, Write, Flush, Rename };

/// For tests: asked before each step; false makes the step fail as a full disk would.
using SaveGate = std::function<bool(SaveStep)>;

/// Writes `text` to `path`: a new file beside it is written, flushed to the disk and renamed over
/// the old one, so that at every moment the old or the new text stands there whole. A link is
/// followed; the old file's permissions are kept, and a new file gets `newFileMode` less what the
/// process's umask takes off.
///
/// `expected` is the mark of what the caller last saw there: when the file has changed since
/// (or has come to be, or is gone), nothing is written and the error is a Conflict. Without
/// `expected` an existing file is replaced.
Result<ContentMark> saveFile(const std::string &path, std::string_view text,
                             std::optional<ContentMark> expected = std::nullopt,
                             const SaveGate &gate = {}, unsigned newFileMode = 0666);

/// As saveFile(), for output that a person named: an existing file is replaced only when `replace`
/// says so, and `input` (the file the output was made from) never. Otherwise a Conflict, and
/// nothing is written.
Result<ContentMark> saveOutput(const std::string &path, std::string_view text, bool replace,
                               const std::string &input);

/// Would saveOutput() refuse this path?
Result<void> outputIsFree(const std::string &path, bool replace, const std::string &input);

} // namespace badger::io
