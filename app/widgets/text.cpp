// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/text.h"

namespace badger::app
{

Listener &listener()
{
    static Listener window;
    return window;
}

} // namespace badger::app
