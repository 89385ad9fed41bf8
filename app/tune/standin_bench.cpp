// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/standin_bench.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QDir>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QStandardPaths>

namespace badger::app
{

using tune::What;

namespace
{

/// Beside this program as it is installed, beside its folder as it is built.
QString program()
{
    const QDir here(QCoreApplication::applicationDirPath());
    const QString name = "swift-badger-standin";
    for (const auto &path : {here.filePath(name), here.filePath("../standin/" + name)})
        if (QFileInfo(path).isExecutable())
            return path;
    return QStandardPaths::findExecutable(name);
}

const std::vector<What> ranging = {What::Ruler, What::NoEcho, What::Air};
const std::vector<What> looking = {What::Surfaces, What::Trimmer, What::Reflectance};

} // namespace

StandinBench::StandinBench(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    m_row = new QHBoxLayout(this);
    m_row->setContentsMargins(0, 0, 0, 0);
    m_row->setSpacing(theme.space(2));
    auto *head = new QLabel(tr("Stand-in:"));
    head->setProperty("small", true);
    m_row->addWidget(head);
    addSlider("distance", tr("target"), 0, 400, 40, "cm", 1.0, {What::Ruler, What::Air});
    addChoices("distance", tr("ahead"), {{"none", tr("open space")}, {"40cm", tr("a board")}},
               {What::NoEcho});
    addChoices("surface", tr("under it"), {{"light", tr("light")}, {"dark", tr("dark")}}, looking);
    addSlider("height", tr("height"), 1, 200, 8, "mm", 1.0, looking);
    addSlider("trimmer", tr("trimmer"), 0, 100, 40, {}, 0.01, {What::Trimmer});
    addSlider("ambient", tr("room light"), 0, 100, 10, {}, 0.01,
              {What::Surfaces, What::Trimmer, What::Reflectance, What::Lamp});
    addSlider("air", tr("air"), -10, 45, 22, "C", 1.0, ranging);
    addFaults();
    m_row->addStretch(1);
    auto *end = new QPushButton(tr("Stop the stand-in"));
    end->setObjectName("standin stop");
    end->setProperty("link", true);
    m_row->addWidget(end);
    connect(end, &QPushButton::clicked, this, &StandinBench::stop);
    connect(&m_process, &QProcess::readyReadStandardOutput, this, &StandinBench::readPath);
    connect(&m_process, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
        if (error == QProcess::FailedToStart)
            emit failed(tr("The stand-in cannot be started: %1.").arg(m_process.errorString()));
    });
    connect(&m_process, &QProcess::finished, this, [this] {
        hide();
        const auto words = QString::fromUtf8(m_process.readAllStandardError()).trimmed();
        if (!m_isReady)
            emit failed(words.isEmpty() ? tr("The stand-in ended at once.") : words);
        emit ended();
    });
    hide();
}

StandinBench::~StandinBench()
{
    m_process.disconnect(this);
    stop();
    if (!m_process.waitForFinished(1000))
        m_process.kill();
    m_process.waitForFinished(1000);
}

void StandinBench::start(int baud)
{
    const auto path = program();
    if (path.isEmpty()) {
        emit failed(
            tr("The stand-in, swift-badger-standin, is not installed beside this program."));
        return;
    }
    m_isReady = false;
    m_process.start(path, {"--baud", QString::number(baud)});
}

void StandinBench::stop()
{
    // It ends with its input.
    if (isRunning())
        m_process.closeWriteChannel();
}

void StandinBench::readPath()
{
    if (m_isReady || !m_process.canReadLine())
        return;
    m_isReady = true;
    const auto path = QString::fromUtf8(m_process.readLine()).trimmed();
    show();
    emit ready(path);
}

void StandinBench::set(const QByteArray &key, const QByteArray &value)
{
    if (isRunning())
        m_process.write(key + " " + value + "\n");
}

void StandinBench::addSlider(const QByteArray &key, const QString &name, int least, int most,
                             int now, const QString &unit, double share, std::vector<What> of)
{
    auto *box = new QWidget;
    auto *layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto *label = new QLabel(name);
    label->setProperty("small", true);
    auto *slider = new QSlider(Qt::Horizontal);
    slider->setObjectName("standin " + QString::fromUtf8(key));
    slider->setAccessibleName(name);
    slider->setRange(least, most);
    slider->setValue(now);
    slider->setFixedWidth(qRound(110 * m_theme.scale()));
    auto *number = new QLabel;
    number->setProperty("small", true);
    number->setMinimumWidth(qRound(44 * m_theme.scale()));
    const auto words = [unit, share](int value) {
        const auto text = QString::number(value * share, 'g', 4);
        return unit.isEmpty() ? text : unit == "C" ? text + " °C" : text + " " + unit;
    };
    number->setText(words(now));
    layout->addWidget(label);
    layout->addWidget(slider);
    layout->addWidget(number);
    connect(slider, &QSlider::valueChanged, this, [this, key, number, words, unit, share](int v) {
        number->setText(words(v));
        set(key, QByteArray::number(v * share, 'g', 6) + unit.toUtf8());
    });
    m_row->addWidget(box);
    m_knobs.push_back({key, box, std::move(of)});
}

void StandinBench::addChoices(const QByteArray &key, const QString &name,
                              const std::vector<std::pair<QByteArray, QString>> &choices,
                              std::vector<What> of)
{
    auto *box = new QWidget;
    auto *layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto *label = new QLabel(name);
    label->setProperty("small", true);
    auto *list = new QComboBox;
    list->setObjectName("standin " + QString::fromUtf8(key) + " word");
    list->setAccessibleName(name);
    for (const auto &[value, words] : choices)
        list->addItem(words, value);
    layout->addWidget(label);
    layout->addWidget(list);
    connect(list, &QComboBox::activated, this,
            [this, key, list] { set(key, list->currentData().toByteArray()); });
    m_row->addWidget(box);
    m_knobs.push_back({key, box, std::move(of)});
}

void StandinBench::addFaults()
{
    auto *list = new QComboBox;
    list->setObjectName("standin fault");
    list->setAccessibleName(tr("A fault put in"));
    const std::pair<const char *, QString> faults[] = {
        {"", tr("no fault")},
        {"lost-echoes", tr("echoes get lost")},
        {"no-echo-zero", tr("gives 0 for no echo")},
        {"no-echo-long", tr("holds its line for 190 ms")},
        {"late-echo", tr("late echoes")},
        {"servo-moving", tr("servo still moving")},
        {"jitter", tr("five times the noise")},
        {"inverted", tr("left module inverted")},
        {"saturated", tr("saturated")},
        {"lost-lines", tr("lines get lost")}};
    for (const auto &[code, words] : faults)
        list->addItem(words, QByteArray(code));
    connect(list, &QComboBox::activated, this, [this, list] {
        if (!m_fault.isEmpty())
            set("no-fault", m_fault);
        m_fault = list->currentData().toByteArray();
        if (!m_fault.isEmpty())
            set("fault", m_fault);
    });
    m_row->addWidget(list);
}

void StandinBench::showFor(What what)
{
    for (const auto &knob : m_knobs)
        knob.widget->setVisible(knob.of.empty() ||
                                std::find(knob.of.begin(), knob.of.end(), what) != knob.of.end());
}

} // namespace badger::app
