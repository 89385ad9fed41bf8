// SPDX-License-Identifier: GPL-3.0-or-later
#include "fuzz/link_checks.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char *data, std::size_t size)
{
    badger::fuzz::checkLink({reinterpret_cast<const char *>(data), size});
    return 0;
}
