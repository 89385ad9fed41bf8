// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/start/start_page.h"

#include "app/kit/car_sketch.h"
#include "app/widgets/picture_button.h"
#include "app/widgets/text.h"
#include "core/io/shipped.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <array>

namespace badger::app
{

StartPage::StartPage(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    auto *page = new QWidget;
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, theme.space(3));
    layout->setSpacing(theme.space(3));
    layout->addWidget(makeKits());
    layout->addWidget(makeHour());
    layout->addStretch(1);
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(page);
    m_pages = new QStackedWidget;
    m_pages->addWidget(scroll);
    m_pages->addWidget(makeWait());
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(m_pages);
}

void StartPage::show(const StationFace &face)
{
    m_pages->setCurrentIndex(face.offersKits() ? 0 : 1);
    m_waits->setText(face.waits);
}

QWidget *StartPage::makeWait()
{
    auto *holder = new QWidget;
    auto *layout = new QVBoxLayout(holder);
    layout->setContentsMargins(0, m_theme.space(4), 0, 0);
    layout->setSpacing(m_theme.space(3));
    m_waits = new QLabel;
    m_waits->setObjectName("waits");
    m_waits->setWordWrap(true);
    m_waits->setMaximumWidth(qRound(560 * m_theme.scale()));
    auto *go = new QPushButton(tr("Choose a first car"));
    go->setObjectName("chooseFirstCar");
    connect(go, &QPushButton::clicked, this, &StartPage::kitsWanted);
    layout->addWidget(m_waits);
    layout->addWidget(go, 0, Qt::AlignLeft);
    layout->addStretch(1);
    return holder;
}

QWidget *StartPage::makeKits()
{
    auto *holder = new QWidget;
    auto *grid = new QGridLayout(holder);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(m_theme.space(2));
    constexpr int columns = 4;
    const auto &kits = io::startingKits();
    for (size_t i = 0; i < kits.size(); ++i) {
        auto *button = new PictureButton(
            str(kits[i].name), str(kits[i].line),
            [this, i](QPainter &p, const QRectF &box) {
                paintCarSketch(p, box, io::startingKits()[i].car, io::shippedCatalogue(), m_theme);
            },
            m_theme);
        button->setObjectName("kit:" + str(kits[i].name));
        connect(button, &PictureButton::clicked, this, [this, i] { emit kitChosen(i); });
        grid->addWidget(button, int(i) / columns, int(i) % columns);
    }
    return holder;
}

QWidget *StartPage::makeHour()
{
    using judge::Station;
    const std::array<std::pair<Station, QString>, 5> steps = {
        {{Station::Kit, tr("10 minutes: see that the parts go together, and print the template "
                           "before anything is drilled.")},
         {Station::Wire, tr("20 minutes: one wire at a time, then first power with expected "
                            "volts. Wheels off the ground.")},
         {Station::Rule, tr("10 minutes: choose the distance, read what the car does at every "
                            "reading, write the board program.")},
         {Station::Floor, tr("5 minutes: drive it here first, and see whether it stops in time.")},
         {Station::Log, tr("15 minutes: three runs against a board, the gap by ruler; a hand at "
                           "the switch.")}}};
    auto *holder = new QWidget;
    auto *grid = new QGridLayout(holder);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(m_theme.space(3));
    grid->setVerticalSpacing(m_theme.space(1));
    auto *heading = new QLabel(tr("A first hour"));
    heading->setProperty("heading", true);
    grid->addWidget(heading, 0, 0, 1, 2);
    int row = 1;
    for (const auto &[station, text] : steps) {
        auto *name = new QLabel(judge::name(station));
        name->setProperty("heading", true);
        auto *words = new QLabel(text);
        words->setWordWrap(true);
        words->setProperty("quiet", true);
        grid->addWidget(name, row, 0, Qt::AlignTop);
        grid->addWidget(words, row++, 1);
    }
    grid->setColumnStretch(1, 1);
    return holder;
}

} // namespace badger::app
