// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/shipped.h"
#include "core/judge/findings_list.h"
#include "core/judge/judge.h"
#include "support/fixture.h"
#include "support/places.h"

#include <QDirIterator>
#include <random>
#include <set>

using namespace badger;
using test::Bench;

namespace
{

std::set<std::string> codes()
{
    std::set<std::string> all;
    for (const auto &section : judge::checkSections())
        for (const auto &line : section.lines)
            all.emplace(line.code);
    return all;
}

/// The demo's cars and the starting kits, as they are.
std::vector<kit::Car> cars()
{
    const auto demo = test::demo();
    std::vector<kit::Car> all(demo.cars.begin(), demo.cars.end());
    for (const auto &k : io::startingKits())
        all.push_back(k.car);
    return all;
}

std::set<std::string> raisedBy(const workshop::Workshop &w, const kit::Car &car)
{
    std::set<std::string> raised;
    const auto catalogue = io::catalogueOf(w);
    for (const auto &f : judge::judge(w, {car, catalogue}, nullptr, judge::Runs::Later).all())
        raised.insert(f.code);
    return raised;
}

QByteArray fileText(const QString &path)
{
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

} // namespace

class TestFindingsList final : public QObject
{
    Q_OBJECT
private slots:
    void theDocumentIsMadeFromTheTables()
    {
        const auto made = QByteArray::fromStdString(judge::findingsDocument());
        if (made == fileText(test::places::findings))
            return;
        QFile fresh("findings.md");
        QVERIFY(fresh.open(QIODevice::WriteOnly));
        fresh.write(made);
        QFAIL(qPrintable("the tables have changed: put " + QFileInfo(fresh).absoluteFilePath() +
                         " into docs"));
    }

    void everyLineSaysSomething()
    {
        for (const auto &section : judge::checkSections()) {
            std::set<std::string_view> seen;
            for (const auto &line : section.lines) {
                QVERIFY2(seen.insert(line.code).second, std::string(line.code).c_str());
                QVERIFY(!line.says.empty());
                QVERIFY(line.severity.starts_with("error") ||
                        line.severity.starts_with("warning") ||
                        line.severity.starts_with("advice"));
            }
        }
    }

    /// No car, however bent, has a finding that the list does not know.
    void whateverIsRaisedIsListed()
    {
        const auto known = codes();
        auto w = test::demo();
        std::mt19937 random(9);
        for (const auto &whole : cars())
            for (int i = 0; i < 12; ++i) {
                auto car = whole;
                if (i > 0 && !car.wires.empty())
                    car.wires.erase(car.wires.begin() + long(random() % car.wires.size()));
                if (i % 3 == 1 && !car.parts.empty())
                    car.parts.erase(car.parts.begin() + long(random() % car.parts.size()));
                if (i % 3 == 2 && car.wires.size() > 1)
                    std::swap(car.wires[0].to, car.wires[random() % car.wires.size()].to);
                for (const auto &code : raisedBy(w, car))
                    QVERIFY2(known.contains(code), code.c_str());
            }
    }

    void everyCheckIsSilentOnSomeCar()
    {
        const auto w = test::demo();
        auto never = codes();
        for (const auto &car : cars()) {
            const auto raised = raisedBy(w, car);
            std::erase_if(never, [&](const std::string &code) { return !raised.contains(code); });
        }
        QVERIFY2(never.empty(), never.empty() ? "" : never.begin()->c_str());
    }

    /// A code that no test names has never been seen to be raised.
    void everyCodeIsNamedByATest()
    {
        QByteArray tests;
        QDirIterator it(test::places::testsOfCore, {"test_*.cpp", "broken_cars.h"}, QDir::Files,
                        QDirIterator::Subdirectories);
        while (it.hasNext())
            tests += fileText(it.next());
        for (const auto &code : codes())
            QVERIFY2(tests.contains(("\"" + code + "\"").c_str()), code.c_str());
    }
};

BADGER_TEST(TestFindingsList)

#include "test_findings_list.moc"
