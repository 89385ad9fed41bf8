// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/kit_station.h"

#include "app/shell/fix_bar.h"
#include "app/widgets/choice.h"
#include "app/widgets/text.h"
#include "core/edit/fixed_car.h"

#include <QAction>
#include <QComboBox>
#include <QCompleter>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStringListModel>
#include <algorithm>

namespace badger::app
{

KitStation::KitStation(Session &session, const Theme &theme, QWidget *parent)
    : PagedStation(session, theme, parent)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, theme.space(1));
    layout->setSpacing(theme.space(1));
    m_make = new MakePage(session, theme);
    m_parts = new PartsPage(session, theme);
    m_compare = new ComparePage(session, theme);
    makePages(tr("Car"), makeCarPage(),
              {{tr("Make it"), m_make}, {tr("Parts"), m_parts}, {tr("Compare"), m_compare}});
    layout->addWidget(makeMissionRow());
    m_fixBar = new FixBar(session, theme, judge::Station::Kit);
    layout->addWidget(m_fixBar);
    connect(&this->session(), &Session::fixTried, this, [this] {
        if (m_fixBar->shows())
            showPage(Page::Car);
        refresh();
    });
    layout->addWidget(stack(), 1);
    makeActions();

    connect(m_parts, &PartsPage::addWanted, this, [this](const QString &id) {
        showPage(Page::Car);
        addPart(id);
    });
    connect(m_compare, &ComparePage::taken, this, &KitStation::exchange);
    connect(m_plan, &CarPlan::partPicked, this, &KitStation::pickPart);
    connect(m_plan, &CarPlan::partMoved, this, &KitStation::movePart);
    connect(m_plan, &CarPlan::removeWanted, this, &KitStation::removePart);
    connect(m_tree, &PowerView::nodePicked, this, [this](const QString &node) {
        m_number.clear();
        const auto *n = this->session().current()->kit.power.tree.node(node.toStdString());
        if (n != nullptr) {
            m_plan->pick(str(n->instance));
            m_bar->show(*this->session().car(), this->session().catalogue(), str(n->instance));
        }
        refreshNumbers();
        emit sumChanged();
    });
    connect(m_bar, &PartBar::edited, this,
            [this](const QString &text, const std::function<void(kit::Car &)> &change) {
                edit(text, change);
            });
    connect(m_bar, &PartBar::refused, this,
            [this](const QString &why) { emit this->session().said(why, true); });
    connect(m_bar, &PartBar::removeWanted, this, &KitStation::removePart);
    connect(m_bar, &PartBar::exchangeWanted, this,
            [this](const QString &i, const QString &p) { exchange(i, p); });
    connect(m_bar, &PartBar::compareWanted, this, [this](const QString &instance) {
        showPage(Page::Compare);
        m_compare->choose(instance);
    });
}

QWidget *KitStation::makeMissionRow()
{
    auto *holder = new QWidget;
    auto *column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(theme().space(1));
    auto *row = new QHBoxLayout;
    row->setSpacing(theme().space(2));
    m_behaviour = new QComboBox;
    m_behaviour->setObjectName("behaviour");
    m_behaviour->addItem(tr("choose what it shall do"), QString());
    for (const auto &b : kit::behaviours()) {
        m_behaviour->addItem(tr(b.name), QString(b.key));
        m_behaviour->setItemData(m_behaviour->count() - 1,
                                 tr("%1 Tried on %2.").arg(tr(b.line), tr(b.floor)),
                                 Qt::ToolTipRole);
    }
    m_floor = new QComboBox;
    m_floor->setObjectName("missionFloor");
    m_floor->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_floor->setMinimumContentsLength(12);
    auto *shall = new QLabel(tr("It &shall"));
    shall->setBuddy(m_behaviour);
    auto *on = new QLabel(tr("on"));
    choice()->setObjectName("kitPages");
    row->addWidget(shall);
    row->addWidget(m_behaviour);
    row->addWidget(on);
    row->addWidget(m_floor);
    row->addStretch(1);
    row->addWidget(choice());
    column->addLayout(row);
    m_needs = new QLabel;
    m_needs->setObjectName("needs");
    m_needs->setProperty("small", true);
    m_needs->setTextFormat(Qt::RichText);
    m_needs->setProperty("links", true);
    m_needs->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    m_needs->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    connect(m_needs, &QLabel::linkActivated, this, &KitStation::mendGap);
    column->addWidget(m_needs);
    connect(m_behaviour, &QComboBox::activated, this, [this] {
        const auto key = m_behaviour->currentData().toString().toStdString();
        if (key.empty())
            edit(tr("Set the mission"), [](kit::Car &car) { car.mission.reset(); });
        else
            setMission([&](kit::Mission &m) { m.behaviour = key; });
    });
    connect(m_floor, &QComboBox::activated, this, [this] {
        const Id<floor::Floor> floor{m_floor->currentData().toString().toStdString()};
        setMission([&](kit::Mission &m) { m.floor = floor; });
    });
    return holder;
}

QWidget *KitStation::makeCarPage()
{
    auto *page = new QWidget;
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme().space(1));
    m_plan = new CarPlan(theme());
    m_plan->setObjectName("carPlan");
    layout->addWidget(m_plan, 1);
    m_numbers = new QHBoxLayout;
    m_numbers->setSpacing(theme().space(4));
    layout->addLayout(m_numbers);
    layout->addLayout(makeStateRow());

    m_tree = new PowerView(theme());
    m_tree->setObjectName("powerTree");
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(m_tree);
    m_treeArea = scroll;
    layout->addWidget(scroll, 1);

    m_bar = new PartBar(theme());
    m_bar->setObjectName("partBar");
    layout->addWidget(m_bar);
    // Where the window is low or the type large, the page scrolls before its pictures get too
    // small.
    auto *outer = new QScrollArea;
    outer->setWidgetResizable(true);
    outer->setFrameShape(QFrame::NoFrame);
    outer->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    outer->setWidget(page);
    return outer;
}

/// The state that the tree shows, and the field that adds a part.
QHBoxLayout *KitStation::makeStateRow()
{
    auto *states = new QHBoxLayout;
    states->setSpacing(theme().space(2));
    m_charge = new Choice({tr("fresh"), tr("nominal"), tr("near empty")});
    m_charge->setObjectName("charge");
    m_charge->setIndex(1);
    m_load = new Choice({tr("idle"), tr("running"), tr("stalled")});
    m_load->setObjectName("load");
    m_load->setIndex(1);
    m_case = new Choice({tr("typical"), tr("worst")});
    m_case->setObjectName("case");
    m_case->setIndex(0);
    for (auto *choice : {m_charge, m_load, m_case}) {
        states->addWidget(choice);
        connect(choice, &Choice::chosen, this, [this] { refresh(), emit sumChanged(); });
    }
    states->addStretch(1);
    m_addField = new QLineEdit;
    m_addField->setObjectName("addPart");
    m_addField->setPlaceholderText(tr("add a part: type its name"));
    m_addField->setFixedWidth(qRound(200 * theme().scale()));
    auto *completer = new QCompleter(new QStringListModel(this), this);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    completer->setMaxVisibleItems(12);
    m_addField->setCompleter(completer);
    connect(m_addField, &QLineEdit::returnPressed, this, &KitStation::addTyped);
    states->addWidget(m_addField);
    return states;
}

void KitStation::makeActions()
{
    const auto add = [this](const QString &text, const QKeySequence &keys, auto call) {
        auto *a = new QAction(text, this);
        a->setShortcut(keys);
        connect(a, &QAction::triggered, this, call);
        m_actions << a;
    };
    add(tr("&Add a part"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_A), [this] {
        session().selectStation(judge::Station::Kit);
        showPage(Page::Car);
        m_addField->setFocus();
    });
    const std::array<std::pair<QString, Page>, 4> pages = {
        {{tr("The &car and its power"), Page::Car},
         {tr("&Make it"), Page::Make},
         {tr("Part &catalogue"), Page::Parts},
         {tr("Com&pare two builds"), Page::Compare}}};
    for (const auto &[text, page] : pages)
        add(text, {}, [this, page] {
            session().selectStation(judge::Station::Kit);
            showPage(page);
        });
    add(tr("Save the &template as PDF ..."), {}, [this] { m_make->askAndSave(true); });
    add(tr("Save the template as S&VG ..."), {}, [this] { m_make->askAndSave(false); });
}

std::optional<double> KitStation::threshold_m() const
{
    const auto *stop = session().stopRule().value;
    return stop ? stop->si : std::nullopt;
}

void KitStation::refreshMission()
{
    const auto *car = session().car();
    m_floor->clear();
    m_floor->addItem(tr("any floor"), QString());
    for (const auto &f : session().workshop().floors)
        m_floor->addItem(str(f.name), str(f.id.text));
    for (auto *box : {m_behaviour, m_floor})
        box->setEnabled(car != nullptr);
    m_needs->clear();
    if (car == nullptr)
        return m_behaviour->setCurrentIndex(0);
    const auto key = car->mission ? str(car->mission->behaviour) : QString();
    m_behaviour->setCurrentIndex(std::max(0, m_behaviour->findData(key)));
    const auto floor = car->mission ? str(car->mission->floor.text) : QString();
    m_floor->setCurrentIndex(std::max(0, m_floor->findData(floor)));
    m_floor->setEnabled(car->mission.has_value());
    QStringList words;
    QStringList reasons;
    auto needs = session().current()->kit.needs;
    std::stable_partition(needs.begin(), needs.end(), [](const kit::Need &n) { return !n.met; });
    for (const auto &n : needs) { // gaps first: a narrow window cuts the end
        words
            << (n.met
                    ? tr("✓ %1").arg(markup(str(n.what)))
                    : tr("○ %1: %2. %3").arg(markup(str(n.what)), markup(str(n.gap)), mendLink(n)));
        reasons << tr("%1: %2").arg(str(n.what), str(n.reason));
    }
    m_needs->setText(car->mission ? words.join("&nbsp;&nbsp; ")
                                  : tr("Which sensors it needs follows from what it shall do."));
    m_needs->setToolTip(reasons.join('\n'));
}

/// What fills a gap with one click.
QString KitStation::mendLink(const kit::Need &need) const
{
    const auto link = [this](const QString &target, const QString &text) {
        return QStringLiteral("<a href=\"%1\" style=\"color:%2\">%3</a>")
            .arg(markup(target), theme().color(Tone::Result).name(), markup(text));
    };
    if (need.want == kit::Want::NoBoard)
        return link("off:", tr("remove it"));
    if (need.partIds.empty())
        return need.want == kit::Want::RangerOnServo
                   ? link("ride:", tr("put the ranger on the servo"))
                   : QString();
    const auto *part = session().catalogue().find(need.partIds.front());
    return part ? link("fit:" + str(part->id), tr("add: %1").arg(str(part->name))) : QString();
}

void KitStation::refreshCompleter()
{
    QStringList names;
    for (const auto &p : session().catalogue().parts())
        if (p.kind != parts::Kind::Fastener && p.kind != parts::Kind::Jumper)
            names << str(p.name);
    names.removeDuplicates();
    static_cast<QStringListModel *>(m_addField->completer()->model())->setStringList(names);
}

void KitStation::refreshAround()
{
    refreshMission();
}

void KitStation::refreshOwn()
{
    refreshNumbers();
    refreshCompleter();
    const auto *car = session().car();
    const auto *j = session().current();
    for (QWidget *w : {static_cast<QWidget *>(m_bar), static_cast<QWidget *>(m_addField)})
        w->setVisible(car != nullptr);
    if (car == nullptr || j == nullptr) {
        m_plan->showNothing(
            tr("No car yet.\nAdd one with \"+ new car\": it comes with a starting kit."));
        m_tree->show({}, {}, {});
    } else {
        // A fix that is looked at is drawn, and judged, as if it were made.
        std::optional<kit::Car> tried;
        std::optional<judge::KitJudgement> triedKit;
        if (m_fixBar->shows()) {
            tried = edit::applied({*car, session().catalogue()}, *session().tried());
            triedKit = judge::judgeKit({*tried, session().catalogue()}, std::nullopt);
        }
        const auto &kit = triedKit ? *triedKit : j->kit;
        m_plan->show({tried ? *tried : *car, session().catalogue(), kit, threshold_m()});
        m_tree->show(kit.power.tree, kit.findings.findings,
                     {kit::Charge(m_charge->index()), power::Load(m_load->index()),
                      power::Case(m_case->index())});
        // The tree takes no more than the rows it has; the car gets the rest of the page.
        m_treeArea->setMinimumHeight(
            std::min(m_tree->sizeHint().height(), qRound(144 * theme().scale())));
        m_treeArea->setMaximumHeight(m_tree->sizeHint().height() + 2);
        m_bar->show(*car, session().catalogue(), m_plan->picked());
    }
}

void KitStation::pickPart(const QString &instance)
{
    const auto *car = session().car();
    if (car == nullptr)
        return;
    m_bar->show(*car, session().catalogue(), instance);
    // The tree goes along: the first node of that part.
    for (const auto &n : session().current()->kit.power.tree.nodes)
        if (str(n.instance) == instance) {
            m_number.clear();
            m_tree->pick(str(n.id));
            break;
        }
    refreshNumbers();
    emit sumChanged();
}

void KitStation::reveal(const QString &target)
{
    const auto rest = target.section(':', 1);
    if (target.startsWith("make:")) {
        showPage(Page::Make);
        return m_make->reveal(rest);
    }
    showPage(Page::Car);
    if (target.startsWith("mission:"))
        return m_behaviour->setFocus();
    if (target.startsWith("node:")) {
        const auto *j = session().current();
        const auto *n = j ? j->kit.power.tree.node(rest.toStdString()) : nullptr;
        const auto instance = n ? str(n->instance) : rest.section('.', 0, 0);
        m_plan->pick(instance);
        pickPart(instance);
        if (n != nullptr)
            m_tree->pick(rest);
        m_tree->setFocus();
        return emit sumChanged();
    }
    if (rest.isEmpty())
        return m_addField->setFocus();
    m_plan->pick(rest);
    pickPart(rest);
    m_plan->setFocus();
}

} // namespace badger::app
