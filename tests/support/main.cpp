// SPDX-License-Identifier: GPL-3.0-or-later
// Runs the test classes of one folder. First argument: the name of a test file without "test_" and
// ".cpp"; without it every class runs. What follows goes to Qt Test.
#include "support/suite.h"

#include <QFileInfo>
#include <QStringList>
#include <QTest>
#include <QTextStream>

#ifdef BADGER_TEST_WITH_WINDOW
#include "app/shell/application.h"
using Application = badger::app::Application;
#else
#include <QCoreApplication>
using Application = QCoreApplication;
#endif

namespace badger::test
{

std::vector<Suite> &suites()
{
    static std::vector<Suite> all; // filled before main()
    return all;
}

} // namespace badger::test

int main(int argc, char **argv)
{
    Application application(argc, argv);
    auto arguments = application.arguments();
    QString wanted;
    if (arguments.size() > 1 && !arguments.at(1).startsWith('-'))
        wanted = arguments.takeAt(1);
    int failed = 0;
    int ran = 0;
    for (const auto &suite : badger::test::suites()) {
        if (!wanted.isEmpty() && QFileInfo(suite.file).baseName() != "test_" + wanted)
            continue;
        ++ran;
        failed += QTest::qExec(suite.make().get(), arguments);
    }
    if (ran == 0) {
        QTextStream(stderr) << "there is no test file named " << wanted << '\n';
        return 2;
    }
    return failed;
}
