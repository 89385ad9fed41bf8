// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/document.h"
#include "app/document/recovery.h"
#include "app/shell/application.h"
#include "app/shell/main_window.h"
#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "app/tour/tour.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QStandardPaths>
#include <QStyleFactory>
#include <QTextStream>
#include <QTimer>

using namespace badger::app;

namespace
{

struct Options {
    QString file;
    QString play;
    QString pictures;
    QString suffix;
    QString car;
    QSize size{1280, 800};
    Theme::Palette palette = Theme::Palette::Light;
    bool empty = false;
    bool firstPaint = false;
};

Options read(const QCoreApplication &application)
{
    QCommandLineParser parser;
    parser.setApplicationDescription(
        "Thresholds, wiring and stopping distances of small robot cars");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("file", "A workshop; without one the demo opens.", "[file]");
    const QCommandLineOption play("play",
                                  "Play the demo's main job, store pictures in <folder> and "
                                  "end.",
                                  "folder");
    const QCommandLineOption pictures("pictures",
                                      "Store a picture of every station in <folder> and "
                                      "end.",
                                      "folder");
    const QCommandLineOption suffix("suffix", "Ending of the pictures' names.", "text");
    const QCommandLineOption car("car", "Select this car.", "name");
    const QCommandLineOption size("size", "Size of the window, as 1280x800.", "size", "1280x800");
    const QCommandLineOption palette("palette", "light, dark or projector.", "name", "light");
    const QCommandLineOption empty("empty", "Begin with an empty workshop.");
    const QCommandLineOption firstPaint("first-paint",
                                        "End after the first paint, and say how long it "
                                        "took.");
    parser.addOptions({firstPaint, play, pictures, suffix, car, size, palette, empty});
    parser.process(application);
    Options o;
    o.file = parser.positionalArguments().value(0);
    o.play = parser.value(play);
    o.pictures = parser.value(pictures);
    o.suffix = parser.value(suffix);
    o.car = parser.value(car);
    o.firstPaint = parser.isSet(firstPaint);
    o.empty = parser.isSet(empty);
    const auto sides = parser.value(size).split('x');
    const int width = sides.value(0).toInt();
    const int height = sides.value(1).toInt();
    const auto name = parser.value(palette);
    const QStringList names = {"light", "dark", "projector"};
    if (sides.size() != 2 || width < 400 || height < 300 || width > 8000 || height > 8000 ||
        !names.contains(name)) {
        QTextStream(stderr) << "swift-badger: --size takes WIDTHxHEIGHT from 400x300 on, --palette "
                               "takes light, dark or projector\n";
        std::exit(2);
    }
    o.size = QSize(width, height);
    o.palette = static_cast<Theme::Palette>(names.indexOf(name));
    return o;
}

/// Says how long the first paint took, and ends the program.
class FirstPaint final : public QObject
{
public:
    explicit FirstPaint(const QElapsedTimer &since) : m_since(since) {}
    bool eventFilter(QObject *, QEvent *event) override
    {
        if (event->type() != QEvent::Paint)
            return false;
        QTimer::singleShot(0, [elapsed = m_since.elapsed()] {
            QTextStream(stdout) << "first paint after " << elapsed << " ms\n";
            QApplication::quit();
        });
        return false;
    }

private:
    const QElapsedTimer &m_since;
};

} // namespace

int main(int argc, char **argv)
{
    QElapsedTimer sinceStart;
    sinceStart.start();
    QApplication::setApplicationName("swift-badger");
    QApplication::setOrganizationName("swift-badger");
    QApplication::setApplicationVersion(BADGER_VERSION);
    // Help, version and mistakes in the options need no display.
    const auto options = [&] {
        const QCoreApplication console(argc, argv);
        return read(console);
    }();
    Application application(argc, argv);
    QApplication::setApplicationDisplayName("Swift Badger");
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    if (!Theme::loadFonts())
        QTextStream(stderr) << "swift-badger: an embedded font could not be loaded\n";

    Theme theme;
    theme.apply(application);
    Document document;
    const bool scripted = !options.play.isEmpty() || !options.pictures.isEmpty();
    Session session(document, scripted ? badger::judge::Runs::Now : badger::judge::Runs::Later);
    Recovery recovery(document, QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) +
                                    "/recovery");
    if (!options.empty)
        document.startDemo();
    showLengthsAsChosen();
    MainWindow window(document, session, recovery, theme);
    window.resize(options.size);
    if (options.palette != Theme::Palette::Light)
        window.setPalette(options.palette);
    FirstPaint firstPaint(sinceStart);
    if (options.firstPaint)
        window.installEventFilter(&firstPaint);
    window.show();

    if (!options.file.isEmpty())
        window.openFile(options.file);
    session.selectCar(options.car);
    if (scripted) {
        const bool done = options.play.isEmpty()
                              ? takePictures(window, session, options.pictures, options.suffix)
                              : playDemo(window, document, session, options.play);
        return done ? 0 : 1;
    }
    recovery.start();
    QTimer::singleShot(0, &window, [&window] { window.offerRecovered(); });
    return QApplication::exec();
}
