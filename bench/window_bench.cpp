// SPDX-License-Identifier: GPL-3.0-or-later
// badger_window_bench: how long does the interface thread take for what a hand does?
//
// Drives the real window without a display and prints one figure a line. A drag is counted from the
// mouse event to the end of the painting it causes; a tick at the bench likewise; opening from the
// call to the first paint. The workshop of forty cars holds 5 MB of runs.
#include "app/rule/distance_ruler.h"
#include "app/rule/rule_station.h"
#include "app/shell/main_window.h"
#include "app/wire/bench_page.h"
#include "app/wire/wire_station.h"
#include "core/io/shipped.h"
#include "core/io/storage.h"
#include "core/io/workshop_file.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QTemporaryDir>
#include <QTextStream>
#include <algorithm>

using namespace badger;

namespace
{

/// The demo's cars four times over, and runs until the file has 5 MB of them.
workshop::Workshop fortyCars()
{
    auto w = *io::readWorkshop(io::demoWorkshop());
    const auto cars = w.cars;
    for (int copy = 2; copy <= 4; ++copy)
        for (const auto &car : cars) {
            auto more = car;
            more.id.text += "-" + std::to_string(copy);
            more.name += " " + std::to_string(copy);
            w.cars.push_back(more);
        }
    const auto runs = w.trials;
    constexpr size_t wanted = 16000; // about 330 bytes each in the file
    for (size_t i = 0; w.trials.size() < wanted; ++i) {
        auto run = std::as_const(runs)[i % runs.size()];
        run.id.text += "-" + std::to_string(i);
        run.car = std::as_const(w.cars)[i % w.cars.size()].id;
        run.battery_V = 7.0 + 0.001 * double(i % 900);
        run.note = "run " + std::to_string(i);
        w.trials.push_back(run);
    }
    return w;
}

class Bench
{
public:
    explicit Bench(app::MainWindow &window, app::Session &session)
        : m_window(window), m_session(session)
    {
    }

    /// Everything that follows from an event, painting included.
    static void settle()
    {
        QApplication::processEvents();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    double paint_ms(const std::function<void()> &act)
    {
        QElapsedTimer clock;
        clock.start();
        act();
        m_events_ms.push_back(double(clock.nsecsElapsed()) * 1e-6);
        // What the event loop does next: layouts settle, and the window paints what changed.
        QCoreApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::UpdateRequest);
        return double(clock.nsecsElapsed()) * 1e-6;
    }

    std::vector<double> drag()
    {
        m_session.selectStation(judge::Station::Rule);
        settle();
        auto *ruler = m_window.station(judge::Station::Rule)->findChild<app::DistanceRuler *>();
        const auto send = [&](QEvent::Type type, QPointF at, Qt::MouseButtons buttons) {
            QMouseEvent event(type, at, ruler->mapToGlobal(at), Qt::LeftButton, buttons,
                              Qt::NoModifier);
            QApplication::sendEvent(ruler, &event);
        };
        const auto handle = ruler->pointOf(m_session.stopRule().value->si.value());
        send(QEvent::MouseButtonPress, handle, Qt::LeftButton);
        std::vector<double> all;
        for (int i = 1; i <= 100; ++i) {
            const QPointF to = handle + QPointF(i % 2 ? 30 + i : 10 + i, 0);
            all.push_back(paint_ms([&] { send(QEvent::MouseMove, to, Qt::LeftButton); }));
            settle();
        }
        send(QEvent::MouseButtonRelease, handle, Qt::NoButton);
        return all;
    }

    std::vector<double> ticks()
    {
        m_session.selectStation(judge::Station::Wire);
        auto *wire = qobject_cast<app::WireStation *>(m_window.station(judge::Station::Wire));
        wire->showPage(app::WireStation::Page::Bench);
        settle();
        auto *view = wire->findChild<app::BenchView *>();
        std::vector<double> all;
        for (int i = 0; i < 12; ++i) {
            all.push_back(paint_ms([&] {
                QKeyEvent press(QEvent::KeyPress, Qt::Key_Space, Qt::NoModifier, " ");
                QApplication::sendEvent(view, &press);
            }));
            settle();
        }
        return all;
    }

    /// Of each act: what its event alone took, before the painting.
    std::vector<double> takeEvents_ms() { return std::exchange(m_events_ms, {}); }

private:
    std::vector<double> m_events_ms;
    app::MainWindow &m_window;
    app::Session &m_session;
};

double percentile(std::vector<double> all, double share)
{
    std::sort(all.begin(), all.end());
    return all[std::min(all.size() - 1, size_t(share * double(all.size())))];
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    QTextStream out(stdout);
    QTemporaryDir folder;
    app::Theme::loadFonts();
    app::Theme theme;
    theme.apply(application);
    const auto path = folder.filePath("forty.badger.json");
    const auto text = io::writeWorkshop(fortyCars());
    if (!io::saveFile(path.toStdString(), text))
        return 1;
    for (const bool forty : {false, true}) {
        app::Document document;
        app::Session session(document, judge::Runs::Later);
        app::Recovery recovery(document, folder.filePath("recovery"));
        app::MainWindow window(document, session, recovery, theme);
        window.resize(1280, 800);
        window.show();
        QElapsedTimer clock;
        clock.start();
        if (!forty)
            document.startDemo();
        else if (!document.open(path))
            return 1;
        window.repaint();
        (void)window.grab();
        const auto name = QString(forty ? "40" : "");
        out << "open" << (forty ? "40" : "10") << "_ms=" << double(clock.nsecsElapsed()) * 1e-6
            << '\n';
        session.selectCar("Avocet");
        Bench::settle();
        Bench bench(window, session);
        const auto drag = bench.drag();
        out << "drag" << name << "_ms_p50=" << percentile(drag, 0.50) << '\n';
        out << "drag" << name << "_ms_p99=" << percentile(drag, 0.99) << '\n';
        out << "drag" << name << "_event_ms_p50=" << percentile(bench.takeEvents_ms(), 0.50)
            << '\n';
        const auto ticks = bench.ticks();
        out << "tick" << name << "_ms_p50=" << percentile(ticks, 0.50) << '\n';
        out.flush();
    }
    out << "file40_MB=" << double(text.size()) / 1e6 << '\n';
    return 0;
}
