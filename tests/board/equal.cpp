// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/equal.h"
#include "support/limited.h"

#include <QFile>
#include <QProcess>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::board
{

namespace
{

QString run(const QString &program, const QStringList &arguments)
{
    QProcess process;
    process.setProcessChannelMode(QProcess::MergedChannels);
    test::runLimited(process, program, arguments);
    const auto output = QString::fromUtf8(process.readAll());
    return process.exitStatus() == QProcess::NormalExit && process.exitCode() == 0
               ? output
               : "failed: " + output;
}

std::string said(const std::vector<int> &pins)
{
    return fmt::format("{}", fmt::join(pins, " "));
}

/// "   text    data     bss ..." and the line below it.
void sizes(const QString &text, Compiled &to)
{
    const auto numbers = text.section('\n', 1, 1).split(' ', Qt::SkipEmptyParts);
    const auto columns = text.section('\n', 1, 1).split('\t', Qt::SkipEmptyParts);
    const auto &of = columns.size() >= 3 ? columns : numbers;
    if (of.size() < 3)
        return;
    to.bytes = of[0].trimmed().toInt() + of[1].trimmed().toInt();
    to.variables = of[1].trimmed().toInt() + of[2].trimmed().toInt();
}

} // namespace

Result<Compiled> compiled(const rules::Program &program, const kit::Assembly &car,
                          boardcode::Writing writing, const std::string &folder)
{
    const auto code = boardcode::boardCode(program, car, writing);
    if (!code)
        return tl::unexpected(code.error());
    for (const auto &f : code->files) {
        QFile file(QString::fromStdString(folder + "/" + f.name));
        if (!file.open(QIODevice::WriteOnly))
            qFatal("cannot write %s", f.name.c_str());
        file.write(f.text.data(), qint64(f.text.size()));
    }
    Compiled to;
    to.program = writing.style ? boardcode::inStyle(program, *writing.style) : program;
    auto machine = machine::lower(to.program, writing.facts);
    if (!machine)
        return tl::unexpected(machine.error());
    to.machine = std::move(*machine);
    auto wires = boardcode::wiresFor(to.program, car, writing.facts.neutral_us);
    if (!wires)
        return tl::unexpected(wires.error());
    to.wires = std::move(*wires);
    const bool board = to.wires.target == boardcode::Target::Board;
    to.kind = board ? Kind::Board : Kind::Chip;
    const auto source = folder + "/" + code->files.front().name;
    to.elf = source + ".elf";
    // Functions stay functions, so that their calls can be watched; the code is what is shipped.
    QStringList flags{board ? "-mmcu=" BOARD_MCU : "-mmcu=" CHIP_MCU,
                      "-Os",
                      "-std=c++17",
                      "-Wall",
                      "-Wextra",
                      "-Werror",
                      "-fno-inline",
                      "-fno-optimize-sibling-calls",
                      "-fno-ipa-sra",
                      "-fno-ipa-cp",
                      "-fno-ipa-icf",
                      "-o",
                      QString::fromStdString(to.elf),
                      QString::fromStdString(source)};
    const auto done = run("avr-g++", flags);
    if (!done.isEmpty())
        return fail(Error::Kind::Malformed, Say(source), Say(done.toStdString()));
    to.symbols = run("avr-nm", {"-C", QString::fromStdString(to.elf)}).toStdString();
    sizes(run("avr-size", {QString::fromStdString(to.elf)}), to);
    return to;
}

std::string difference(const Account &chip, const Account &model)
{
    for (const auto &error : {chip.error, model.error})
        if (!error.empty())
            return error;
    const auto both = std::min(chip.told.size(), model.told.size());
    for (size_t i = 0; i < both; ++i) {
        const auto &a = chip.told[i];
        const auto &b = model.told[i];
        if (a.pins != b.pins)
            return fmt::format(
                "entry {} (pass {}): chip {} at {:.0f} us, interpreter {} at {:.0f} us", i,
                a.passes, said(a.pins), a.time_us, said(b.pins), b.time_us);
    }
    if (chip.told.size() != model.told.size()) {
        const auto &more = chip.told.size() > both ? chip.told[both] : model.told[both];
        return fmt::format(
            "{} entries on the chip, {} in the interpreter; the next is {} at {:.0f} us, "
            "pass {} of {} and {}",
            chip.told.size(), model.told.size(), said(more.pins), more.time_us, more.passes,
            chip.passes, model.passes);
    }
    if (chip.passes != model.passes)
        return fmt::format("{} passes on the chip, {} in the interpreter", chip.passes,
                           model.passes);
    return {};
}

} // namespace badger::board
