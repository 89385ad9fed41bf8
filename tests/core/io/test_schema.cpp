// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/shipped.h"
#include "core/io/workshop_file.h"
#include "support/fixture.h"

#include <nlohmann/json.hpp>
#include <random>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

using namespace badger;
using AnyJson = nlohmann::json;
using test::Bench;

namespace
{

/// A schema library's own opinion, for comparison with the reader's.
class Oracle
{
public:
    Oracle() : m_json(AnyJson::parse(io::workshopSchema()))
    {
        valijson::SchemaParser parser;
        parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(m_json), m_schema);
    }
    bool takes(const AnyJson &value) const
    {
        valijson::Validator validator(valijson::Validator::kStrongTypes);
        return validator.validate(m_schema, valijson::adapters::NlohmannJsonAdapter(value),
                                  nullptr);
    }

private:
    AnyJson m_json;
    valijson::Schema m_schema;
};

/// Puts one wrong or odd thing somewhere into a value.
void bend(AnyJson &value, std::mt19937 &random)
{
    static const std::vector<AnyJson> odd = {nullptr,
                                             true,
                                             -1,
                                             0,
                                             7,
                                             2.5,
                                             -1e9,
                                             1e30,
                                             "",
                                             "x",
                                             std::string(3000, 'y'),
                                             AnyJson::array(),
                                             AnyJson::object(),
                                             "drive",
                                             4000000000U,
                                             -0.0};
    AnyJson *at = &value;
    for (;;) {
        if (!at->is_structured() || at->empty() || random() % 6 == 0) {
            *at = odd[random() % odd.size()];
            return;
        }
        auto it = at->begin();
        std::advance(it, static_cast<long>(random() % at->size()));
        if (at->is_object() && random() % 12 == 0) {
            at->erase(it);
            return;
        }
        at = &*it;
    }
}

} // namespace

class TestSchema final : public QObject
{
    Q_OBJECT
private slots:
    void theShippedSchemaIsMadeFromTheDescription()
    {
        const auto made = io::makeSchema();
        if (made == io::workshopSchema())
            return;
        QFile fresh("workshop.schema.json");
        QVERIFY(fresh.open(QIODevice::WriteOnly));
        fresh.write(made.data(), qint64(made.size()));
        QFAIL(qPrintable("the description has changed: put " + QFileInfo(fresh).absoluteFilePath() +
                         " into data/schema"));
    }

    void itTakesWhatTheWriterWrites()
    {
        Bench b;
        QVERIFY(Oracle().takes(AnyJson::parse(io::writeWorkshop(b.workshop))));
    }

    /// What the schema refuses the reader refuses too, and what it takes the reader refuses for
    /// what no schema can see, if at all.
    void theReaderAgreesWithASchemaLibrary()
    {
        const Oracle oracle;
        const auto demo = AnyJson::parse(io::writeWorkshop(Bench().workshop));
        std::mt19937 random(20);
        int refused = 0;
        for (int i = 0; i < 120; ++i) {
            auto bent = demo;
            bend(bent, random);
            const auto text = bent.dump();
            const auto read = io::readWorkshop(text);
            if (!oracle.takes(bent)) {
                ++refused;
                QVERIFY2(!read, text.substr(0, 200).c_str());
            } else if (!read) {
                const auto what = english(read.error().text());
                QVERIFY2(what.find("does not fit") == std::string::npos, what.c_str());
            }
        }
        QVERIFY(refused > 40);
    }
};

BADGER_TEST(TestSchema)
#include "test_schema.moc"
