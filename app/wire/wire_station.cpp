// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/wire_station.h"

#include "app/shell/fix_bar.h"
#include "app/widgets/choice.h"
#include "app/widgets/text.h"
#include "app/wire/wire_edits.h"
#include "core/edit/fixed_car.h"
#include "core/judge/sums.h"
#include "core/nets/drive_map.h"
#include "core/pins/planner.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QCompleter>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStringListModel>

namespace badger::app
{

WireStation::WireStation(Session &session, const Theme &theme, QWidget *parent)
    : PagedStation(session, theme, parent)
{
    makeActions();
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(2));
    m_motion = new MotionPage(session, theme);
    m_changes = new ChangesPage(session, theme);
    m_bench = new BenchPage(session, theme);
    makePages(tr("Harness"), makeHarnessPage(),
              {{tr("Motion"), m_motion}, {tr("Changes"), m_changes}, {tr("Bench"), m_bench}});
    choice()->setObjectName("wirePages");
    auto *row = new QHBoxLayout;
    row->addWidget(m_meter->button());
    m_propose = new QPushButton(tr("Wire as the &kit says"));
    m_propose->setObjectName("proposeHarness");
    m_propose->setToolTip(tr("Every wire that kit and program ask for, to look at before it is "
                             "taken"));
    connect(m_propose, &QPushButton::clicked, this, &WireStation::propose);
    row->addWidget(m_propose);
    row->addStretch(1);
    row->addWidget(choice());
    layout->addLayout(row);
    layout->addWidget(stack(), 1);
}

QWidget *WireStation::makeHarnessPage()
{
    auto *page = new QWidget;
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme().space(2));
    m_harness = new HarnessView(theme());
    m_harness->setObjectName("harness");
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(m_harness);
    m_fixBar = new FixBar(session(), theme(), judge::Station::Wire);
    layout->addWidget(m_fixBar);
    connect(&session(), &Session::fixTried, this, [this] {
        if (m_fixBar->shows())
            showPage(Page::Harness);
        refresh();
    });
    m_proposal = new ProposalBar(session(), theme());
    layout->addWidget(m_proposal);
    connect(m_proposal, &ProposalBar::changed, this, [this] {
        m_harness->pickWire(-1); // it was one of another list
        refresh();
    });
    layout->addWidget(scroll, 1);
    m_meter = new MeterBar(theme());
    layout->addWidget(m_meter);
    layout->addWidget(makeEditor());
    connectHarness();
    return page;
}

void WireStation::connectHarness()
{
    connect(m_meter, &MeterBar::changed, this, [this] {
        m_harness->showMeter(m_meter->shown());
        emit sumChanged();
    });
    connect(m_harness, &HarnessView::wireHovered, this, [this](int wire) {
        m_hovered = wire;
        if (m_meter->isOn())
            emit sumChanged();
    });
    connect(m_harness, &HarnessView::terminalTwice, this,
            [this](const QString &name) { m_meter->toggle(name.toStdString()); });
    connect(m_harness, &HarnessView::wirePicked, this, &WireStation::showWire);
    connect(m_harness, &HarnessView::terminalPicked, this, [this](const QString &name) {
        m_terminal = name.toStdString();
        m_meter->pick(m_terminal);
        const auto *car = session().car();
        const auto *t =
            car ? kit::Assembly(*car, session().catalogue()).terminal(name.toStdString()) : nullptr;
        m_jumperTerminal = t && t->jumper ? name.toStdString() : std::string();
        if (m_harness->pickedWire() < 0)
            m_from->setText(name);
        refresh();
    });
    connect(m_harness, &HarnessView::endMoved, this,
            [this](int wire, bool fromEnd, const QString &terminal) {
                if (m_fixBar->shows() || m_proposal->shown() != nullptr)
                    return; // what is looked at is another car than the one that would be changed
                editWiring(session(), tr("Move a wire"), [&](kit::Car &car) {
                    auto &w = car.wires[static_cast<size_t>(wire)];
                    (fromEnd ? w.from : w.to) = terminal.toStdString();
                });
            });
}

/// The car with the fix that is looked at; what changes stands out.
void WireStation::showTried(const kit::Car &car)
{
    const auto after = edit::applied({car, session().catalogue()}, *session().tried());
    m_harness->show(after, session().catalogue(), {});
    m_harness->showMeter(std::nullopt);
    HarnessChanges changes;
    const auto isIn = [](const std::vector<kit::Wire> &all, const kit::Wire &w) {
        return std::any_of(all.begin(), all.end(), [&](const kit::Wire &x) {
            return x.from == w.from && x.to == w.to && x.colour == w.colour;
        });
    };
    // A wire of a terminal that the car no longer has cannot be drawn.
    const kit::Assembly mended(after, session().catalogue());
    for (const auto &w : car.wires)
        if (!isIn(after.wires, w) && mended.terminal(w.from) && mended.terminal(w.to))
            changes.gone.push_back(w);
    int step = 0;
    for (const auto &w : after.wires)
        if (!isIn(car.wires, w))
            changes.numbers[str(w.from) + "\n" + str(w.to)] = ++step;
    m_harness->showChanges(std::move(changes));
}

QWidget *WireStation::makeEditor()
{
    m_editor = new QWidget;
    auto *holder = m_editor;
    auto *row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, theme().space(2));
    row->setSpacing(theme().space(2));
    const auto label = [&](const QString &text, QWidget *buddy) {
        auto *l = new QLabel(text);
        l->setProperty("small", true);
        l->setBuddy(buddy);
        row->addWidget(l);
    };
    m_from = new QLineEdit;
    m_from->setObjectName("wireFrom");
    m_to = new QLineEdit;
    m_to->setObjectName("wireTo");
    for (auto *end : {m_from, m_to}) {
        end->setPlaceholderText(tr("ranger.ECHO"));
        auto *completer = new QCompleter(new QStringListModel(this), this);
        completer->setCaseSensitivity(Qt::CaseInsensitive);
        completer->setFilterMode(Qt::MatchContains);
        end->setCompleter(completer);
        connect(end, &QLineEdit::returnPressed, this, &WireStation::takeWire);
    }
    m_colour = new QComboBox;
    m_colour->setObjectName("wireColour");
    m_colour->addItems(Theme::wireNames());
    for (int i = 0; i < m_colour->count(); ++i) {
        QPixmap swatch(14, 14);
        swatch.fill(theme().wire(m_colour->itemText(i)));
        m_colour->setItemIcon(i, swatch);
    }
    connect(m_colour, &QComboBox::activated, this, [this] { m_colourChosen = true; });
    m_take = new QPushButton(tr("Change"));
    m_take->setObjectName("wireTake");
    connect(m_take, &QPushButton::clicked, this, &WireStation::takeWire);
    auto *add = new QPushButton(tr("Add"));
    add->setObjectName("wireAdd");
    add->setToolTip(m_add->text().remove('&') + " (Ctrl+Enter)");
    connect(add, &QPushButton::clicked, m_add, &QAction::trigger);
    auto *remove = new QPushButton(tr("Remove"));
    remove->setObjectName("wireRemove");
    remove->setToolTip("Ctrl+Backspace");
    connect(remove, &QPushButton::clicked, m_remove, &QAction::trigger);
    makeJumperAndPins();

    label(tr("From"), m_from);
    row->addWidget(m_from, 2);
    label(tr("to"), m_to);
    row->addWidget(m_to, 2);
    row->addWidget(m_colour, 1);
    row->addWidget(m_take);
    row->addWidget(add);
    row->addWidget(remove);
    row->addWidget(m_jumper);
    row->addWidget(m_pinsDiffer);
    return holder;
}

void WireStation::makeJumperAndPins()
{
    m_jumper = new QCheckBox(tr("jumper"));
    connect(m_jumper, &QCheckBox::clicked, this, &WireStation::jumperToggled);
    m_pinsDiffer = new QPushButton(tr("take pins from wires"));
    m_pinsDiffer->setObjectName("pinsDiffer");
    m_pinsDiffer->setProperty("link", true);
    m_pinsDiffer->setCursor(Qt::PointingHandCursor);
    connect(m_pinsDiffer, &QPushButton::clicked, m_takePins, &QAction::trigger);
}

void WireStation::propose()
{
    session().selectStation(judge::Station::Wire);
    showPage(Page::Harness);
    session().tryFix(std::nullopt);
    m_proposal->propose();
}

void WireStation::showWire(int index)
{
    m_harness->pickWire(index);
    if (m_proposal->shown() != nullptr)
        return m_proposal->explain(index);
    const auto *car = session().car();
    if (car && index >= 0 && index < static_cast<int>(car->wires.size())) {
        const auto &w = car->wires[static_cast<size_t>(index)];
        m_from->setText(str(w.from));
        m_to->setText(str(w.to));
        if (m_colour->findText(str(w.colour)) < 0)
            m_colour->addItem(str(w.colour)); // the user's own name is kept
        m_colour->setCurrentText(str(w.colour));
    }
    m_take->setEnabled(index >= 0);
    m_remove->setEnabled(index >= 0);
    emit sumChanged();
}

void WireStation::refreshAround()
{
    const bool shows = session().car() != nullptr && page() == Page::Harness;
    m_meter->button()->setVisible(shows);
    m_propose->setVisible(shows && m_proposal->isHidden() && !m_fixBar->shows());
}

void WireStation::refreshOwn()
{
    const auto *car = session().car();
    const auto *j = session().current();
    m_editor->setVisible(car != nullptr);
    if (car == nullptr || j == nullptr)
        return m_harness->showNothing(
            tr("No car yet.\nAdd one with \"+ new car\": it comes with a starting kit."));
    const bool tried = m_fixBar->shows();
    const auto *proposal = tried ? nullptr : m_proposal->shown();
    if (tried)
        m_proposal->leave();
    m_editor->setEnabled(!tried);
    m_editor->setVisible(proposal == nullptr);
    m_meter->setEnabled(!tried && proposal == nullptr);
    m_meter->button()->setVisible(proposal == nullptr);
    m_propose->setVisible(!tried && proposal == nullptr);
    if (tried)
        return showTried(*car);
    if (proposal != nullptr) {
        m_harness->show(proposal->car, session().catalogue(), {});
        m_harness->showMeter(std::nullopt);
        return m_harness->showChanges(m_proposal->changes());
    }
    m_harness->show(*car, session().catalogue(), j->wire.findings);
    m_meter->show(*car, session().catalogue());
    m_harness->showMeter(m_meter->shown());
    const auto names = allTerminals(*car, session().catalogue());
    for (auto *end : {m_from, m_to})
        static_cast<QStringListModel *>(end->completer()->model())->setStringList(names);
    showWire(m_harness->pickedWire());
    const auto split = kit::splitTerminal(m_jumperTerminal);
    const auto *fitted = car->instance(split.instance);
    m_jumper->setVisible(fitted != nullptr);
    if (fitted) {
        m_jumper->setText(tr("jumper on %1").arg(str(split.terminal)));
        m_jumper->setChecked(nets::isJumpered(*fitted, split.terminal));
    }
    const bool differ = !(nets::withPinsFromWires(*car, session().catalogue()) == *car);
    m_takePins->setEnabled(differ);
    m_pinsDiffer->setVisible(differ);
}

Sum WireStation::ownSum() const
{
    const auto *car = session().car();
    if (car == nullptr)
        return {};
    Sum sum;
    const bool hovers = m_meter->isOn() && m_hovered >= 0;
    const int picked = hovers ? m_hovered : m_harness->pickedWire();
    if (picked >= 0 && picked < static_cast<int>(car->wires.size())) {
        const auto &w = car->wires[static_cast<size_t>(picked)];
        sum.result =
            m_meter->isOn() ? m_meter->wireWords(static_cast<size_t>(picked)) : str(w.colour);
        const auto end = [&](const std::string &terminal, const QString &otherwise) {
            const auto read = m_meter->words(terminal);
            return read.isEmpty() ? otherwise : read;
        };
        sum.parts = {{str(w.from), end(w.from, tr("from"))}, {str(w.to), end(w.to, tr("to"))}};
        sum.aside = tr("wire %1 of %2").arg(picked + 1).arg(car->wires.size());
    } else if (const auto read = m_meter->words(m_terminal); !read.isEmpty()) {
        sum.result = read;
        sum.parts = {{str(m_terminal), tr("this terminal")}};
    } else {
        sum.result = car->wires.size() == 1 ? tr("1 wire") : tr("%1 wires").arg(car->wires.size());
    }
    sum.unfold(judge::whyWheels({*car, session().catalogue()}));
    return sum;
}

void WireStation::reveal(const QString &target)
{
    if (!target.startsWith("terminal:"))
        return;
    showPage(Page::Harness);
    const auto name = target.mid(9).toStdString();
    m_harness->markTerminal(name);
    m_harness->setFocus();
    const auto *car = session().car();
    for (size_t i = 0; car && i < car->wires.size(); ++i)
        if (car->wires[i].from == name || car->wires[i].to == name)
            return showWire(static_cast<int>(i));
    m_from->setText(str(name));
}

} // namespace badger::app
