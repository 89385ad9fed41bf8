// SPDX-License-Identifier: GPL-3.0-or-later
// badger_mutants [--first N] [--count N] [--seconds S] [--file FILE]: opens mutants of the demo in
// every call of the command line and, without a display, on every page of the window. Each has to
// be answered or refused: no exception, no step over two seconds, no more than 500 MB.
//
// Ends with status 1 and the seeds when one was not. What was seen last is on stderr, so that the
// seed of a crash is known.
#include "app/kit/kit_station.h"
#include "app/shell/application.h"
#include "app/shell/main_window.h"
#include "app/wire/wire_station.h"
#include "bench/mutant.h"
#include "cli/floor_commands.h"
#include "cli/workshop_commands.h"
#include "core/base/medium.h"
#include "core/io/shipped.h"
#include "core/io/storage.h"
#include "core/io/workshop_file.h"
#include "core/mechanics/template.h"
#include "core/wiring/wire_list.h"

#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTextStream>
#include <QXmlStreamReader>
#include <fmt/format.h>
#include <functional>
#include <iostream>
#include <sys/resource.h>
#include <time.h>

using namespace badger;

namespace
{

/// Sanitizers cost several times the time and memory: there only what they report counts.
#ifdef __SANITIZE_ADDRESS__
constexpr bool sanitized = true;
#else
constexpr bool sanitized = false;
#endif
/// Of the processor's time: what else the machine does is not this program's doing.
constexpr qint64 longestStep_ms = 2000;
constexpr long mostMemory_kB = 500 * 1024;

qint64 spent_us_now()
{
    timespec t = {};
    clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &t);
    return qint64(t.tv_sec) * 1000000 + t.tv_nsec / 1000;
}

class Examination
{
public:
    Examination(app::Document &document, app::Session &session, app::MainWindow &window)
        : m_document(document), m_session(session), m_window(window),
          m_path(m_folder.filePath("mutant.badger.json").toStdString())
    {
    }

    void examine(const std::string &text, const std::string &name, const std::string &how)
    {
        m_name = name;
        m_how = how;
        if (auto ok = io::saveFile(m_path, text); !ok)
            qFatal("%s", english(ok.error().text()).c_str());
        Result<workshop::Workshop> read = tl::unexpected(Error{});
        step("read", [&] { read = io::readWorkshop(text); });
        ++m_seen;
        if (!read) {
            if (read.error().what.empty())
                complain("refused without a reason");
            return;
        }
        ++m_accepted;
        step("write and read", [&] {
            const auto again = io::readWorkshop(io::writeWorkshop(*read));
            if (!again || !(*again == *read))
                complain("is not the same after saving");
        });
        calls(*read);
        pages();
    }

    int failed() const { return m_failed; }
    int seen() const { return m_seen; }
    int accepted() const { return m_accepted; }
    qint64 longest_ms() const { return m_longest_ms; }
    const std::string &longestStep() const { return m_longestStep; }
    /// Where the time went, by step. For whoever wants the next run to be shorter.
    const std::map<std::string, qint64> &spent_us() const { return m_spent_us; }
    void complain(const std::string &what)
    {
        ++m_failed;
        std::cout << m_name << ": " << m_step << ": " << what << "\n  " << medium::line(m_how)
                  << std::endl;
    }

private:
    void step(const std::string &name, const std::function<void()> &body)
    {
        m_step = name;
        const auto began_us = spent_us_now();
        try {
            body();
        } catch (const std::exception &e) {
            complain(std::string("exception: ") + e.what());
        }
        const auto took_us = spent_us_now() - began_us;
        const auto took = took_us / 1000;
        m_spent_us[name] += took_us;
        if (took > m_longest_ms) {
            m_longest_ms = took;
            m_longestStep = m_name + ", " + name;
        }
        if (!sanitized && took > longestStep_ms)
            complain(fmt::format("{} ms", took));
    }

    void answer(const std::string &name, const std::function<Result<cli::Answer>()> &call)
    {
        step(name, [&] {
            const auto a = call();
            if (!a) {
                if (a.error().what.empty())
                    complain("refused without a reason");
                return;
            }
            (void)medium::terminalJson(a->json.dump());
            static const QRegularExpression number("(^|[^a-zA-Z_'])-?(inf|nan)([^a-zA-Z_']|$)");
            if (number.match(QString::fromStdString(a->text + a->why)).hasMatch())
                complain("says inf or nan");
        });
    }

    void calls(const workshop::Workshop &w)
    {
        answer("list", [&] { return cli::list(m_path); });
        if (w.cars.empty())
            return;
        const auto &car = w.cars[size_t(m_seen) % w.cars.size()];
        m_car = car.name;
        answer("check", [&] { return cli::check(m_path, m_car); });
        answer("power", [&] { return cli::power(m_path, m_car); });
        answer("wiring", [&] { return cli::wiring(m_path, m_car, {}, {}); });
        if (car.history.size() > 1)
            answer("between", [&] {
                return cli::wiring(m_path, m_car,
                                   {car.history.front().number, car.history.back().number}, {});
            });
        answer("pins", [&] { return cli::pins(m_path, m_car, {}); });
        answer("pins and a servo", [&] { return cli::pins(m_path, m_car, {"servo-21"}); });
        answer("motion", [&] { return cli::motion(m_path, m_car); });
        answer("table", [&] { return cli::table(m_path, m_car, {}); });
        answer("budget", [&] { return cli::budget(m_path, m_car); });
        const cli::Output out{m_folder.filePath("code").toStdString(), true};
        answer("code", [&] { return cli::code(m_path, m_car, {out, false, {}, true}); });
        answer("part tests", [&] { return cli::code(m_path, m_car, {out, true, {}, false}); });
        if (!w.floors.empty())
            answer("trial", [&] {
                cli::Driving how;
                how.floor = w.floors[size_t(m_seen) % w.floors.size()].name;
                how.lasts = "5s";
                return cli::trial(m_path, m_car, how);
            });
        media(w, car);
    }

    void media(const workshop::Workshop &w, const kit::Car &car)
    {
        const auto catalogue = io::catalogueOf(w);
        step("wire list", [&] {
            const auto read = wiring::readWireList(wiring::wireListCsv(car), {car, catalogue});
            if (!read || read->known != int(car.wires.size()))
                complain("its wire list is not read back");
        });
        step("template", [&] {
            const auto svg =
                mechanics::templateSvg(mechanics::templateOf({car, catalogue}), car.name);
            QXmlStreamReader reader(QString::fromStdString(svg));
            while (!reader.atEnd())
                reader.readNext();
            if (reader.hasError())
                complain("its template is no XML: " + reader.errorString().toStdString());
        });
    }

    void pages()
    {
        step("open", [&] {
            if (!m_document.open(QString::fromStdString(m_path)))
                complain("the window refuses what the reader takes");
            QApplication::processEvents();
        });
        m_session.selectCar(QString::fromStdString(m_car));
        const auto page = [&](const std::string &name, const std::function<void()> &go) {
            step(name, [&] {
                go();
                QApplication::processEvents();
                // The event loop of a program does this whenever it is back in main().
                QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
                (void)m_window.grab();
            });
        };
        using judge::Station;
        page("Kit", [&] { m_session.selectStation(Station::Kit); });
        auto *kit = qobject_cast<app::KitStation *>(m_window.station(Station::Kit));
        using KitPage = app::KitStation::Page;
        for (const auto p : {KitPage::Make, KitPage::Parts, KitPage::Compare, KitPage::Car})
            page("Kit page " + std::to_string(int(p)), [&] { kit->showPage(p); });
        page("Wire", [&] { m_session.selectStation(Station::Wire); });
        auto *wire = qobject_cast<app::WireStation *>(m_window.station(Station::Wire));
        using WirePage = app::WireStation::Page;
        for (const auto p :
             {WirePage::Motion, WirePage::Changes, WirePage::Bench, WirePage::Harness})
            page("Wire page " + std::to_string(int(p)), [&] { wire->showPage(p); });
        for (const auto s : {Station::Rule, Station::Floor, Station::Log})
            page(judge::name(s), [&] { m_session.selectStation(s); });
        rusage used = {};
        getrusage(RUSAGE_SELF, &used);
        if (!sanitized && used.ru_maxrss > mostMemory_kB && !m_largeSaid) {
            m_largeSaid = true;
            complain(fmt::format("{} MB of memory", used.ru_maxrss / 1024));
        }
    }

    app::Document &m_document;
    app::Session &m_session;
    app::MainWindow &m_window;
    QTemporaryDir m_folder;
    std::string m_path;
    std::string m_name, m_how, m_step, m_car;
    std::string m_longestStep;
    std::map<std::string, qint64> m_spent_us;
    qint64 m_longest_ms = 0;
    int m_seen = 0;
    int m_accepted = 0;
    int m_failed = 0;
    bool m_largeSaid = false;
};

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    app::Application application(argc, argv);
    QCommandLineParser options;
    options.addHelpOption();
    options.addOptions({{"first", "The first seed.", "N", "1"},
                        {"count", "How many mutants.", "N", "2000"},
                        {"seconds", "Stop after this time.", "S", "3600"},
                        {"profile", "Say where the time went."},
                        {"file", "Examine this file alone.", "FILE"}});
    options.process(application);
    QTemporaryDir home;
    app::Theme::loadFonts();
    app::Theme theme;
    theme.apply(application);
    app::Document document;
    app::Session session(document);
    app::Recovery recovery(document, home.filePath("recovery"));
    app::MainWindow window(document, session, recovery, theme);
    window.resize(1280, 800);
    window.show();

    Examination examination(document, session, window);
    QObject::connect(&application, &app::Application::failed, &window, [&](const QString &reason) {
        examination.complain("an event threw: " + reason.toStdString());
    });
    if (options.isSet("file")) {
        const auto text = io::readFile(options.value("file").toStdString());
        if (!text)
            qFatal("%s", english(text.error().text()).c_str());
        examination.examine(*text, options.value("file").toStdString(), {});
    } else {
        const auto original = nlohmann::ordered_json::parse(io::demoWorkshop());
        const auto first = options.value("first").toUInt();
        QElapsedTimer clock;
        clock.start();
        for (unsigned i = 0; i < options.value("count").toUInt(); ++i) {
            if (clock.elapsed() > options.value("seconds").toLongLong() * 1000)
                break;
            const auto m = bench::mutant(original, first + i);
            std::cerr << "seed " << first + i << '\r';
            examination.examine(m.text, fmt::format("seed {}", first + i), m.how);
        }
    }
    if (options.isSet("profile"))
        for (const auto &[step, us] : examination.spent_us())
            std::cout << fmt::format("{:>9} us  {}\n", us, step);
    rusage used = {};
    getrusage(RUSAGE_SELF, &used);
    std::cout << fmt::format("{} mutants, {} of them accepted, {} failures; the longest step took "
                             "{} ms ({}); {} MB\n",
                             examination.seen(), examination.accepted(), examination.failed(),
                             examination.longest_ms(), medium::line(examination.longestStep()),
                             used.ru_maxrss / 1024);
    return examination.failed() == 0 ? 0 : 1;
}
