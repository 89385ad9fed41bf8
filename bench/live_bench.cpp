// SPDX-License-Identifier: GPL-3.0-or-later
// badger_live_bench: does the live plot keep its pace, and its memory?
//
// Ten minutes (or as many as are named) of 200 lines a second go through the assembler into the
// chart without a display, one frame every 50 ms of the board's time, as fast as they can. Printed:
// the 50th and 99th of a hundred of what a frame takes (events, chart and painting), the points
// that the chart was given at most, and the memory after the first and after the last minute. Then
// fits of 100,000 points.
#include "app/tune/live_plot.h"
#include "core/link/assembler.h"
#include "core/standin/talker.h"
#include "core/tune/reflectance_fit.h"
#include "core/tune/ruler_fit.h"
#include "core/tune/surfaces.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QTextStream>
#include <algorithm>

using namespace badger;

namespace
{

double residentMB()
{
    QFile status("/proc/self/status");
    if (!status.open(QIODevice::ReadOnly))
        return 0.0;
    for (const auto &line : status.readAll().split('\n'))
        if (line.startsWith("VmRSS:"))
            return line.simplified().split(' ')[1].toDouble() / 1024.0;
    return 0.0;
}

void livePlot(QTextStream &out, double minutes)
{
    constexpr double frame_s = 0.05;
    app::Theme theme;
    app::LivePlot plot(theme);
    plot.resize(780, 96);
    plot.show();
    standin::Settings settings;
    settings.rate_hz = 200.0;
    standin::Talker talker(1, 1000000);
    link::Assembler assembler(1000000);
    std::vector<double> frames_ms;
    int points = 0;
    double firstMinute_MB = 0.0;
    QElapsedTimer timer;
    for (double now_s = frame_s; now_s <= minutes * 60.0; now_s += frame_s) {
        std::string bytes;
        while (static_cast<double>(talker.nextAt_us()) < now_s * 1e6)
            bytes += talker.next(settings).bytes;
        timer.start();
        for (const auto &event : assembler.take(bytes, now_s))
            if (const auto *s = std::get_if<link::SampleCame>(&event))
                plot.add(s->sample.time_ms * 1e-3, s->sample.values[0].number);
        plot.advance(now_s);
        QApplication::processEvents();
        frames_ms.push_back(static_cast<double>(timer.nsecsElapsed()) * 1e-6);
        points = std::max(points, plot.points());
        if (firstMinute_MB == 0.0 && now_s >= 60.0)
            firstMinute_MB = residentMB();
    }
    std::sort(frames_ms.begin(), frames_ms.end());
    out << "live plot: " << assembler.tally().samples << " lines, a frame takes "
        << frames_ms[frames_ms.size() / 2] << " ms, the 99th of a hundred "
        << frames_ms[frames_ms.size() * 99 / 100] << " ms; at most " << points << " points; memory "
        << firstMinute_MB << " MB after a minute, " << residentMB() << " MB after " << minutes
        << "\n";
}

template <class Fit> void timed(QTextStream &out, const char *name, Fit fit)
{
    QElapsedTimer timer;
    timer.start();
    const bool ok = fit();
    out << name << ", 100,000 points: " << static_cast<double>(timer.nsecsElapsed()) * 1e-6 << " ms"
        << (ok ? "\n" : ", refused\n") << Qt::flush;
}

void fits(QTextStream &out)
{
    constexpr int count = 100000;
    Noise noise(1);
    std::vector<tune::RulerPair> pairs;
    std::vector<tune::ReflectancePair> counts;
    std::vector<double> light;
    std::vector<double> dark;
    for (int i = 0; i < count; ++i) {
        const double m = 0.05 + 1.5 * noise.uniform();
        pairs.push_back({1.017 * m + 0.001 + 0.002 * noise.bell(), m});
        const double d = 0.02 + 0.18 * noise.uniform();
        counts.push_back({d, std::round(0.36 / ((d + 0.009) * (d + 0.009)) + noise.bell())});
        light.push_back(800 + 20 * noise.bell());
        dark.push_back(220 + 20 * noise.bell());
    }
    timed(out, "ranger against ruler", [&] { return tune::fitRuler(pairs).has_value(); });
    timed(out, "reflectance, three laws", [&] { return tune::fitReflectance(counts).has_value(); });
    timed(out, "two surfaces", [&] { return tune::separate(light, dark).has_value(); });
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    app::Theme::loadFonts();
    QTextStream out(stdout);
    fits(out);
    livePlot(out, argc > 1 ? QString(argv[1]).toDouble() : 10.0);
    return 0;
}
