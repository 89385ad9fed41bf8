// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/stations.h"

#include "app/floor/floor_station.h"
#include "app/kit/kit_station.h"
#include "app/log/log_station.h"
#include "app/rule/rule_station.h"
#include "app/tune/tune_station.h"
#include "app/wire/wire_station.h"

namespace badger::app
{

namespace
{

template <class View> StationView *made(Session &session, const Theme &theme)
{
    return new View(session, theme);
}

} // namespace

std::vector<StationFace> stationFaces()
{
    using judge::Station;
    return {
        {Station::Kit, made<KitStation>, {}},
        {Station::Wire, made<WireStation>, {}},
        {Station::Tune, made<TuneStation>,
         QObject::tr(
             "Tune waits for a car with sensors. There readings become thresholds that hold: "
             "with their margin, and with the moment at which they stop being true.")},
        {Station::Rule, made<RuleStation>, {}},
        {Station::Floor, made<FloorStation>,
         QObject::tr("Floor waits for a car with a program. It is driven here, on a floor like "
                     "yours, before it is driven on the real one: where it stops, which reading "
                     "decided, and whether it touches.")},
        {Station::Log, made<LogStation>,
         QObject::tr("Log waits for runs that were measured. For each: the battery before it, the "
                     "gap by ruler after it. Then it compares them with what was predicted, and "
                     "says which threshold comes next.")},
    };
}

} // namespace badger::app
