// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/wire_station.h"

#include "app/widgets/choice.h"
#include "app/widgets/text.h"
#include "app/wire/wire_edits.h"
#include "core/judge/sums.h"
#include "core/nets/drive_map.h"
#include "core/pins/planner.h"
#include "core/repair/repair.h"

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

namespace
{

QStringList allTerminals(const kit::Car &car, const parts::Catalogue &catalogue)
{
    QStringList names;
    for (const auto &fitted : car.parts)
        if (const auto *part = catalogue.find(fitted.partId))
            for (const auto &t : part->terminals)
                names << str(fitted.id + "." + t.name);
    return names;
}

} // namespace

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
    layout->addWidget(makeFixBar());
    layout->addWidget(scroll, 1);
    layout->addWidget(makeEditor());
    connect(m_harness, &HarnessView::wirePicked, this, &WireStation::showWire);
    connect(m_harness, &HarnessView::terminalPicked, this, [this](const QString &name) {
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
                editWiring(session(), tr("Move a wire"), [&](kit::Car &car) {
                    auto &w = car.wires[static_cast<size_t>(wire)];
                    (fromEnd ? w.from : w.to) = terminal.toStdString();
                });
            });
    return page;
}

/// What the harness would be with a fix: seen here, and taken or left.
QWidget *WireStation::makeFixBar()
{
    m_fixBar = new QWidget;
    m_fixBar->setObjectName("nextCard");
    m_fixBar->setAttribute(Qt::WA_StyledBackground);
    auto *row = new QHBoxLayout(m_fixBar);
    row->setContentsMargins(theme().space(3), theme().space(1), theme().space(2), theme().space(1));
    m_fixWords = new QLabel;
    m_fixWords->setObjectName("fixWords");
    m_fixWords->setTextFormat(Qt::PlainText);
    m_fixWords->setWordWrap(true);
    row->addWidget(m_fixWords, 1);
    auto *take = new QPushButton(tr("Change the drawing"));
    take->setObjectName("fixTake");
    connect(take, &QPushButton::clicked, this, [this] { session().takeFix(); });
    auto *leave = new QPushButton(tr("Leave it"));
    leave->setObjectName("fixLeave");
    connect(leave, &QPushButton::clicked, this, [this] { session().tryFix(std::nullopt); });
    row->addWidget(take);
    row->addWidget(leave);
    m_fixBar->hide();
    connect(&session(), &Session::fixTried, this, [this] {
        if (session().tried())
            showPage(Page::Harness);
        refresh();
    });
    return m_fixBar;
}

/// The car with the fix that is looked at; what changes stands out.
void WireStation::showTried(const kit::Car &car)
{
    const auto &fix = *session().tried();
    const auto after = repair::applied(car, fix);
    m_harness->show(after, session().catalogue(), {});
    HarnessChanges changes;
    for (const auto &w : fix.out)
        changes.gone.push_back({w.from, w.to, w.colour, {}});
    int step = 0;
    for (const auto &w : fix.in)
        changes.numbers[str(w.from) + "\n" + str(w.to)] = ++step;
    m_harness->showChanges(std::move(changes));
    m_fixWords->setText(tr("Tried on a copy, power off first: %1").arg(str(repair::words(fix))));
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

std::string WireStation::fullName(const QString &typed) const
{
    // "echo" or "D7" alone is enough where only one terminal of the car has that name.
    const auto text = typed.trimmed();
    const auto *car = session().car();
    if (car == nullptr)
        return text.toStdString();
    std::string only;
    for (const auto &name : allTerminals(*car, session().catalogue())) {
        if (name.compare(text, Qt::CaseInsensitive) == 0)
            return name.toStdString();
        if (name.section('.', 1).compare(text, Qt::CaseInsensitive) == 0) {
            if (!only.empty())
                return text.toStdString();
            only = name.toStdString();
        }
    }
    return only.empty() ? text.toStdString() : only;
}

void WireStation::takeWire()
{
    const int picked = m_harness->pickedWire();
    if (picked < 0)
        return addWire();
    editWiring(session(), tr("Change a wire"), [&](kit::Car &car) {
        auto &w = car.wires[static_cast<size_t>(picked)];
        w.from = fullName(m_from->text());
        w.to = fullName(m_to->text());
        w.colour = m_colour->currentText().toStdString();
    });
}

/// echo, Enter, D7, Enter: the wire is there, in a colour that suits, and the next may be typed.
void WireStation::addWire()
{
    kit::Wire wire{fullName(m_from->text()), fullName(m_to->text()), {}, {}};
    if (wire.from.empty() || wire.to.empty()) {
        m_harness->pickWire(-1);
        if (!wire.from.empty())
            return m_to->setFocus();
        m_from->setFocus();
        return emit session().said(tr("Type the two ends of the new wire, as echo and D7."), false);
    }
    const auto *car = session().car();
    wire.colour = m_colourChosen || car == nullptr
                      ? m_colour->currentText().toStdString()
                      : pins::colourFor({*car, session().catalogue()}, wire.from, wire.to);
    if (!editWiring(session(), tr("Add a wire"),
                    [&](kit::Car &edited) { edited.wires.push_back(wire); }))
        return;
    emit session().said(tr("%1 from %2 to %3.").arg(str(wire.colour), str(wire.from), str(wire.to)),
                        false);
    m_colourChosen = false;
    m_harness->pickWire(-1);
    m_from->clear();
    m_to->clear();
    m_from->setFocus();
}

void WireStation::removeWire()
{
    const int picked = m_harness->pickedWire();
    if (picked < 0)
        return emit session().said(tr("Pick the wire to remove."), false);
    editWiring(session(), tr("Remove a wire"),
               [picked](kit::Car &car) { car.wires.erase(car.wires.begin() + picked); });
    showWire(-1);
}

void WireStation::takePins()
{
    const auto &catalogue = session().catalogue();
    editWiring(session(), tr("Take the pins from the wires"),
               [&](kit::Car &car) { car = nets::withPinsFromWires(car, catalogue); });
}

void WireStation::jumperToggled(bool on)
{
    const auto split = kit::splitTerminal(m_jumperTerminal);
    editWiring(session(), on ? tr("Put a jumper on") : tr("Remove a jumper"), [&](kit::Car &car) {
        for (auto &i : car.parts) {
            if (i.id != split.instance)
                continue;
            std::erase(i.jumpers, split.terminal);
            if (on)
                i.jumpers.push_back(split.terminal);
        }
    });
}

void WireStation::showWire(int index)
{
    m_harness->pickWire(index);
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

void WireStation::refreshOwn()
{
    const auto *car = session().car();
    const auto *j = session().current();
    m_editor->setVisible(car != nullptr);
    if (car == nullptr || j == nullptr)
        return m_harness->showNothing(
            tr("No car yet.\nAdd one with \"+ new car\": it comes with a starting kit."));
    const bool tried = session().tried().has_value();
    m_fixBar->setVisible(tried);
    m_editor->setEnabled(!tried);
    if (tried)
        return showTried(*car);
    m_harness->show(*car, session().catalogue(), j->wire.findings);
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
    const int picked = m_harness->pickedWire();
    if (picked >= 0 && picked < static_cast<int>(car->wires.size())) {
        const auto &w = car->wires[static_cast<size_t>(picked)];
        sum.result = str(w.colour);
        sum.parts = {{str(w.from), tr("from")}, {str(w.to), tr("to")}};
        sum.aside = tr("wire %1 of %2").arg(picked + 1).arg(car->wires.size());
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
