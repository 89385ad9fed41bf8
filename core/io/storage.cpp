// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/storage.h"

#include <atomic>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

namespace badger::io
{

namespace fs = std::filesystem;

namespace
{

using Kind = Error::Kind;

/// Closes a file descriptor on every way out.
class Descriptor
{
public:
    explicit Descriptor(int fd) : m_fd(fd) {}
    ~Descriptor()
    {
        if (m_fd >= 0)
            ::close(m_fd);
    }
    Descriptor(const Descriptor &) = delete;
    Descriptor &operator=(const Descriptor &) = delete;
    int get() const { return m_fd; }

private:
    int m_fd;
};

Say mendFor(int code)
{
    switch (code) {
    case ENOSPC:
    case EDQUOT:
    case EFBIG:
        return say("free some space, or save to another place; the old file is untouched");
    case EACCES:
    case EPERM:
    case EROFS:
        return say("save to a folder you may write to");
    case ENOENT:
    case ENOTDIR:
        return say("choose a folder that exists");
    default:
        return say("save to another place; the old file is untouched");
    }
}

tl::unexpected<Error> storageError(const std::string &path, const Say &doing, int code)
{
    return fail(Kind::Storage, path, say("{}: {}", doing, std::strerror(code)), mendFor(code));
}

/// Removes the half-written new file unless it was renamed.
class Leftover
{
public:
    explicit Leftover(std::string path) : m_path(std::move(path)) {}
    ~Leftover()
    {
        if (!m_path.empty())
            ::unlink(m_path.c_str());
    }
    Leftover(const Leftover &) = delete;
    Leftover &operator=(const Leftover &) = delete;
    void keep() { m_path.clear(); }

private:
    std::string m_path;
};

bool writeAll(int fd, std::string_view text)
{
    while (!text.empty()) {
        const auto written = ::write(fd, text.data(), text.size());
        if (written < 0 && errno == EINTR)
            continue;
        if (written <= 0)
            return false;
        text.remove_prefix(static_cast<size_t>(written));
    }
    return true;
}

std::string followed(const std::string &path)
{
    std::error_code code;
    const auto real = fs::weakly_canonical(path, code);
    return code ? path : real.string();
}

/// A file of its own beside `target`, for the umask to decide its permissions; -1 and errno where
/// there is none.
int makeBeside(const std::string &target, unsigned mode, std::string &name)
{
    constexpr int tries = 100;
    static std::atomic<unsigned> counter = 0; // two threads may save at once
    for (int i = 0; i < tries; ++i) {
        name = fmt::format("{}.new-{}-{}", target, ::getpid(), counter++);
        const int fd = ::open(name.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, mode);
        if (fd >= 0 || errno != EEXIST)
            return fd;
    }
    return -1;
}

Result<void> unchanged(const std::string &path, ContentMark expected)
{
    const auto now = readFile(path);
    if (!now)
        return fail(Kind::Conflict, path, say("the file is gone or cannot be read any more"),
                    say("save under another name, or save here anyway"));
    if (markOf(*now) != expected)
        return fail(Kind::Conflict, path,
                    say("another program has changed the file since it was opened"),
                    say("save under another name, or save here anyway"));
    return {};
}

} // namespace

ContentMark markOf(std::string_view text)
{
    ContentMark hash = 14695981039346656037ULL; // FNV-1a
    for (const char c : text) {
        hash ^= static_cast<unsigned char>(c);
        hash *= 1099511628211ULL;
    }
    return hash;
}

Result<std::string> readFile(const std::string &path)
{
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
    if (file.get() < 0)
        return fail(Kind::Storage, path, say("cannot be opened: {}", std::strerror(errno)),
                    errno == ENOENT ? say("check the name") : say("check that you may read it"));
    struct stat info = {};
    if (::fstat(file.get(), &info) != 0)
        return fail(Kind::Storage, path, std::strerror(errno), "");
    if (!S_ISREG(info.st_mode))
        return fail(Kind::Storage, path, say("is not a file"), say("choose a workshop file"));
    const auto size = static_cast<std::uint64_t>(info.st_size);
    if (size > largestFile_bytes)
        return fail(
            Kind::OutOfRange, path,
            say("is {} MB; a workshop has at most {} MB", size >> 20, largestFile_bytes >> 20),
            say("choose a workshop file"));
    std::string text(size, '\0');
    size_t filled = 0;
    while (filled < text.size()) {
        const auto got = ::read(file.get(), text.data() + filled, text.size() - filled);
        if (got < 0 && errno == EINTR)
            continue;
        if (got < 0)
            return fail(Kind::Storage, path, say("cannot be read: {}", std::strerror(errno)),
                        say("try again"));
        if (got == 0)
            break;
        filled += static_cast<size_t>(got);
    }
    text.resize(filled);
    return text;
}

Result<ContentMark> saveFile(const std::string &path, std::string_view text,
                             std::optional<ContentMark> expected, const SaveGate &gate,
                             unsigned newFileMode)
{
    const auto allowed = [&](SaveStep step) {
        if (!gate || gate(step))
            return true;
        errno = ENOSPC;
        return false;
    };
    const auto target = followed(path);
    if (expected)
        if (auto ok = unchanged(target, *expected); !ok)
            return tl::unexpected(ok.error());

    struct stat old = {};
    const bool existed = ::stat(target.c_str(), &old) == 0;
    if (existed && !S_ISREG(old.st_mode))
        return fail(Kind::Storage, path, say("is not a file"), say("choose another name"));
    // A file that was made read-only was meant to stay; a rename would go around that.
    if (existed && ::access(target.c_str(), W_OK) != 0)
        return storageError(path, say("the file is read-only"), errno);

    if (!allowed(SaveStep::Create))
        return storageError(path, say("the new file cannot be made"), errno);
    std::string name;
    const Descriptor file(makeBeside(target, newFileMode, name));
    if (file.get() < 0)
        return storageError(path, say("the new file cannot be made"), errno);
    Leftover leftover(name);
    if (existed && ::fchmod(file.get(), old.st_mode & 07777) != 0)
        return storageError(path, say("the new file's permissions cannot be set"), errno);
    if (!allowed(SaveStep::Write) || !writeAll(file.get(), text))
        return storageError(path, say("the new file cannot be written"), errno);
    if (!allowed(SaveStep::Flush) || ::fsync(file.get()) != 0)
        return storageError(path, say("the new file does not reach the disk"), errno);
    if (!allowed(SaveStep::Rename) || ::rename(name.c_str(), target.c_str()) != 0)
        return storageError(path, say("the new file cannot take the old one's place"), errno);
    leftover.keep();

    const auto folder = fs::path(target).parent_path().string();
    const Descriptor directory(
        ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (directory.get() >= 0)
        ::fsync(directory.get()); // some file systems cannot; the rename stands all the same
    return markOf(text);
}

Result<void> outputIsFree(const std::string &path, bool replace, const std::string &input)
{
    std::error_code code;
    if (!input.empty() && (followed(path) == followed(input) || fs::equivalent(path, input, code)))
        return fail(Kind::Conflict, path, say("is the file that is read"),
                    say("write to another file"));
    if (!replace && fs::exists(fs::symlink_status(path, code)))
        return fail(Kind::Conflict, path, say("is there already"),
                    say("write to another file, or say --replace"));
    return {};
}

Result<ContentMark> saveOutput(const std::string &path, std::string_view text, bool replace,
                               const std::string &input)
{
    if (auto ok = outputIsFree(path, replace, input); !ok)
        return tl::unexpected(ok.error());
    return saveFile(path, text);
}

} // namespace badger::io
