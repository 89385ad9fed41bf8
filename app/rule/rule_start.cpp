// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/rule_start.h"

#include "app/document/edits.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/marks.h"
#include "app/widgets/picture_button.h"
#include "app/widgets/text.h"
#include "core/kit/roles.h"
#include "core/regions/number_line.h"

#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace badger::app
{

namespace
{

/// The bands of a program's first reading; hatched where nothing is chosen yet.
void paintBands(QPainter &p, const QRectF &box, const rules::Program &program, const Theme &theme)
{
    const QRectF strip(box.left(), box.center().y() - box.height() / 5, box.width(),
                       box.height() / 2.5);
    p.setFont(theme.text(Type::Small));
    std::vector<regions::Band> bands;
    if (const auto machine = machine::lower(program))
        if (const auto line = regions::numberLine(program, *machine))
            bands = regions::bands(*line);
    if (bands.empty()) {
        hatch(p, strip, theme.color(Tone::Ink2), 7);
        p.setPen(QPen(theme.color(Tone::Ink), theme.line()));
        p.setBrush(Qt::NoBrush);
        p.drawRect(strip);
        p.setPen(QPen(theme.color(Tone::Ochre), 2));
        p.drawLine(QPointF(strip.left() + strip.width() * 0.35, strip.top() - 8),
                   QPointF(strip.left() + strip.width() * 0.35, strip.bottom() + 8));
        return;
    }
    const double end_m = bands.back().to_m;
    for (const auto &band : bands) {
        const int to = band.row.to();
        const auto *state = to < 0 ? nullptr : &program.states[static_cast<size_t>(to)];
        const QRectF part(strip.left() + strip.width() * band.from_m / end_m, strip.top(),
                          strip.width() * (band.to_m - band.from_m) / end_m, strip.height());
        if (state == nullptr) {
            hatch(p, part, theme.color(Tone::Ink2), 7);
            continue;
        }
        const auto act = rules::actOf(state->motion);
        p.fillRect(part, theme.color(act));
        p.setPen(theme.color(Tone::Ink));
        const QString word = rules::word(act);
        if (p.fontMetrics().horizontalAdvance(word) + 6 < part.width())
            p.drawText(part, Qt::AlignCenter, word);
    }
    p.setPen(QPen(theme.color(Tone::Ink), theme.line()));
    p.setBrush(Qt::NoBrush);
    p.drawRect(strip);
}

/// What a program can do, one act beside the other.
void paintActs(QPainter &p, const QRectF &box, const rules::Program &program, const Theme &theme)
{
    std::vector<rules::Act> acts;
    for (const auto &s : program.states)
        if (std::find(acts.begin(), acts.end(), rules::actOf(s.motion)) == acts.end())
            acts.push_back(rules::actOf(s.motion));
    const qreal w = box.width() / static_cast<qreal>(acts.size());
    p.setFont(theme.text(Type::Small));
    for (size_t i = 0; i < acts.size(); ++i) {
        const QRectF part(box.left() + w * static_cast<qreal>(i),
                          box.center().y() - box.height() / 5, w - 3, box.height() / 2.5);
        p.setPen(QPen(theme.color(Tone::Ink), theme.line()));
        p.setBrush(theme.color(acts[i]));
        p.drawRoundedRect(part, part.height() / 2, part.height() / 2);
        p.drawText(part, Qt::AlignCenter, rules::word(acts[i]));
    }
}

} // namespace

RuleStart::RuleStart(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme)
{
    auto *page = new QWidget;
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, theme.space(2), 0, 0);
    layout->setSpacing(theme.space(3));
    m_words = new QLabel;
    m_words->setWordWrap(true);
    m_words->setProperty("quiet", true);
    layout->addWidget(m_words);
    m_grid = new QGridLayout;
    m_grid->setSpacing(theme.space(2));
    layout->addLayout(m_grid);
    layout->addStretch(1);
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(page);
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
}

void RuleStart::takeProgram(const Id<rules::Program> &id)
{
    m_session.editCar(tr("Choose a program"), [&](kit::Car &car) { car.program = id; });
}

void RuleStart::takeTemplate(const io::Template &of, const io::Choices &choices)
{
    const auto *car = m_session.car();
    const auto id = newId<rules::Program>(m_session.document().ids());
    auto program = io::fromTemplate(
        of.name, choices, kit::roles({*car, m_session.catalogue()}), id,
        workshop::freeProgramName(m_session.workshop(), of.name + " " + car->name));
    if (!program) {
        emit m_session.said(str(program.error().text()), true);
        return;
    }
    m_session.edit(tr("New program"), [&](workshop::Workshop &w) {
        w.programs.push_back(*program);
        for (auto &c : w.cars)
            if (c.id == m_session.carId())
                c.program = id;
    });
}

void RuleStart::add(PictureButton *button)
{
    constexpr int columns = 3;
    m_grid->addWidget(button, m_count / columns, m_count % columns);
    ++m_count;
}

void RuleStart::addProgram(const rules::Program &program, const QString &title, const QString &line)
{
    auto *button = new PictureButton(
        title, line,
        [this, program](QPainter &p, const QRectF &box) {
            if (regions::hasNumberLine(program))
                paintBands(p, box, program, m_theme);
            else
                paintActs(p, box, program, m_theme);
        },
        m_theme);
    button->setObjectName("start:" + title);
    connect(button, &PictureButton::clicked, this, [this, id = program.id] { takeProgram(id); });
    add(button);
}

void RuleStart::addTemplate(const io::Template &of, const io::Roles &roles)
{
    io::Choices shape;
    const io::TemplateChoice *open = nullptr;
    for (const auto &c : of.choices)
        if (c.shapes) {
            shape[c.key] = c.words.front();
            open = &c;
        }
    const auto program = io::fromTemplate(of.name, shape, roles, {"new"}, of.name);
    if (!program)
        return;
    auto *button = new PictureButton(
        str(of.name), str(of.what),
        [this, program = *program](QPainter &p, const QRectF &box) {
            paintActs(p, box, program, m_theme);
        },
        m_theme);
    button->setObjectName("template:" + str(of.name));
    button->setToolTip(str(of.why));
    connect(button, &PictureButton::clicked, this, [this, button, &of, open] {
        if (open == nullptr)
            return takeTemplate(of, {});
        // The program's shape hangs on one word more, which nobody but a person can choose.
        auto *menu = new QMenu(button);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        menu->addAction(str(open->meaning) + "?")->setEnabled(false); // what the words answer
        menu->addSeparator();
        for (const auto &word : open->words)
            connect(menu->addAction(str(word)), &QAction::triggered, this,
                    [this, &of, key = open->key, word] {
                        takeTemplate(of, {{key, word}});
                    });
        menu->popup(button->mapToGlobal(button->rect().center()));
    });
    add(button);
}

void RuleStart::refresh()
{
    emptyLayout(*m_grid);
    m_count = 0;
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    m_words->setText(tr("A program says what the car does at every reading. Begin with a behaviour "
                        "that %1 has the sensors for: what is not chosen yet stays open in its "
                        "sentences. Or let it run a program that is here already; a change to that "
                        "then changes it for every car that runs it.")
                         .arg(str(car->name)));
    const auto roles = kit::roles({*car, m_session.catalogue()});
    // What the kit is for stands first; without its board a car has no program to begin with, and
    // with one its sensors do not drive the wheels themselves.
    const bool board =
        kit::Assembly(*car, m_session.catalogue()).first(parts::Kind::Board) != nullptr;
    const auto isMission = [&](const io::Template &t) {
        return car->mission && car->mission->behaviour == t.name;
    };
    for (const bool mission : {true, false})
        for (const auto &t : io::templates())
            if (isMission(t) == mission && io::suits(t, roles) && (!board || t.name != "direct"))
                addTemplate(t, roles);
    if (m_count == 0) // no sensor yet: the first behaviour, whose findings say what it needs
        addTemplate(io::templates().front(), roles);
    constexpr size_t most = 8;
    const auto &programs = m_session.workshop().programs;
    for (size_t i = 0; i < programs.size() && i < most; ++i) {
        QStringList cars;
        for (const auto &c : m_session.workshop().cars)
            if (c.program == programs[i].id)
                cars << str(c.name);
        addProgram(programs[i], str(programs[i].name),
                   cars.isEmpty() ? tr("no car runs it") : tr("as on %1").arg(cars.join(", ")));
    }
}

} // namespace badger::app
