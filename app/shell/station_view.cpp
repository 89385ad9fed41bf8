// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/station_view.h"

#include "app/widgets/text.h"

namespace badger::app
{

void Sum::unfold(const Derivation &d)
{
    for (const auto &s : d.steps)
        derivation.push_back({str(s.name), str(s.value), str(s.how), str(s.from)});
}

} // namespace badger::app
