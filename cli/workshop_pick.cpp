// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/workshop_pick.h"

#include "core/io/shipped.h"
#include "core/io/storage.h"
#include "core/io/workshop_file.h"

namespace badger::cli
{

Result<Opened> open(const std::string &file)
{
    const auto text = io::readFile(file);
    if (!text)
        return tl::unexpected(text.error());
    auto workshop = io::readWorkshop(*text);
    if (!workshop) {
        auto error = workshop.error();
        error.where = file + ", " + error.where;
        return tl::unexpected(error);
    }
    auto catalogue = io::catalogueOf(*workshop);
    return Opened{std::move(*workshop), std::move(catalogue)};
}

Result<const kit::Car *> carNamed(const Opened &o, const std::string &name)
{
    if (const auto *car = o.workshop.car(name))
        return car;
    return fail(Error::Kind::Missing, "--car", fmt::format("there is no car '{}'", name),
                "use one of: " + names(o.workshop.cars));
}

Result<std::vector<const kit::Car *>> carsNamed(const Opened &opened, const std::string &name)
{
    std::vector<const kit::Car *> cars;
    if (name.empty()) {
        for (const auto &car : opened.workshop.cars)
            cars.push_back(&car);
        return cars;
    }
    const auto car = carNamed(opened, name);
    if (!car)
        return tl::unexpected(car.error());
    cars.push_back(*car);
    return cars;
}

Result<PickedCar> pickCar(const std::string &file, const std::string &carName)
{
    auto opened = open(file);
    if (!opened)
        return tl::unexpected(opened.error());
    const auto car = carNamed(*opened, carName);
    if (!car)
        return tl::unexpected(car.error());
    return PickedCar{**car, std::move(*opened)};
}

Result<const rules::Program *> programOf(const Opened &o, const kit::Car &car)
{
    if (const auto *program = o.workshop.program(car.program))
        return program;
    return fail(Error::Kind::Missing, "car '" + car.name + "'", "it runs no program",
                "choose one at the Rule station");
}

Result<Picked> pick(const std::string &file, const std::string &carName)
{
    auto picked = pickCar(file, carName);
    if (!picked)
        return tl::unexpected(picked.error());
    const auto program = programOf(picked->opened, picked->car);
    if (!program)
        return tl::unexpected(program.error());
    return Picked{std::move(picked->car), **program, std::move(picked->opened)};
}

} // namespace badger::cli
