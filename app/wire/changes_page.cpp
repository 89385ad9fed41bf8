// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/changes_page.h"

#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"
#include "app/wire/wire_edits.h"
#include "core/judge/compare.h"
#include "core/kit/mission.h"
#include "core/wiring/check.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>

namespace badger::app
{

ChangesPage::ChangesPage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session), m_theme(theme)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(theme.space(2));
    column->addWidget(makeChoices());
    auto *row = new QHBoxLayout;
    row->setSpacing(theme.space(3));
    m_harness = new HarnessView(theme);
    m_harness->setObjectName("changesHarness");
    const auto scrolled = [](QWidget *content) {
        auto *scroll = new QScrollArea;
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        scroll->setWidget(content);
        return scroll;
    };
    row->addWidget(scrolled(m_harness), 3);
    auto *content = new QWidget;
    m_list = new QVBoxLayout(content);
    m_list->setContentsMargins(0, 0, theme.space(2), 0);
    m_list->setSpacing(theme.space(1));
    row->addWidget(scrolled(content), 2);
    column->addLayout(row, 1);
    column->addWidget(makeFinish());
}

QWidget *ChangesPage::makeChoices()
{
    auto *holder = new QWidget;
    auto *row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(m_theme.space(2));
    const auto box = [&](const char *name, int characters) {
        auto *b = new QComboBox;
        b->setObjectName(name);
        b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        b->setMinimumContentsLength(characters);
        return b;
    };
    m_from = box("revisionFrom", 6);
    m_to = box("revisionTo", 6);
    m_next = box("nextExercise", 13);
    m_next->addItem(tr("next exercise"), QString());
    for (const auto &b : kit::behaviours())
        m_next->addItem(tr(b.name), QString(b.key));
    auto *plan = new QPushButton(tr("&Plan the pins"));
    plan->setObjectName("planPins");
    plan->setToolTip(tr("The fewest moves that leave no pin in conflict"));
    m_take = new QPushButton(tr("&Take this plan"));
    m_take->setObjectName("takePlan");
    auto *from = new QLabel(tr("&From"));
    from->setBuddy(m_from);
    row->addWidget(from);
    row->addWidget(m_from);
    row->addWidget(new QLabel(tr("to")));
    row->addWidget(m_to);
    row->addStretch(1);
    row->addWidget(plan);
    row->addWidget(m_next);
    row->addWidget(m_take);
    connect(m_from, &QComboBox::activated, this, &ChangesPage::showRevisions);
    connect(m_to, &QComboBox::activated, this, &ChangesPage::showRevisions);
    connect(m_next, &QComboBox::activated, this, &ChangesPage::planExercise);
    connect(plan, &QPushButton::clicked, this, &ChangesPage::planPins);
    connect(m_take, &QPushButton::clicked, this, &ChangesPage::takePlan);
    return holder;
}

QWidget *ChangesPage::makeFinish()
{
    m_finish = new QWidget;
    auto *row = new QHBoxLayout(m_finish);
    row->setContentsMargins(0, 0, 0, m_theme.space(2));
    row->setSpacing(m_theme.space(2));
    m_reason = new QLineEdit;
    m_reason->setObjectName("revisionReason");
    m_reason->setMaxLength(500);
    m_reason->setPlaceholderText(tr("why the wires were changed"));
    auto *label = new QLabel(tr("&Reason"));
    label->setBuddy(m_reason);
    auto *finish = new QPushButton(tr("Finish this re&vision"));
    finish->setObjectName("finishRevision");
    row->addWidget(label);
    row->addWidget(m_reason, 1);
    row->addWidget(finish);
    connect(finish, &QPushButton::clicked, this, &ChangesPage::finish);
    connect(m_reason, &QLineEdit::returnPressed, this, &ChangesPage::finish);
    return m_finish;
}

/// Numbers of the revisions; the present wires stand last.
void ChangesPage::fillChoices(const kit::Car &car)
{
    for (auto *box : {m_from, m_to}) {
        box->clear();
        for (const auto &r : car.history) {
            box->addItem(tr("revision %1").arg(r.number), r.number);
            box->setItemData(box->count() - 1, tr("%1: %2").arg(str(r.date), str(r.reason)),
                             Qt::ToolTipRole);
        }
        if (revisions::finished(car, car.wiringRevision) == nullptr)
            box->addItem(tr("%1, open").arg(car.wiringRevision), car.wiringRevision);
        else
            box->setItemText(box->count() - 1, tr("%1, as it is").arg(car.wiringRevision));
    }
    m_to->setCurrentIndex(m_to->count() - 1);
    m_from->setCurrentIndex(std::max(0, m_to->count() - 2));
}

void ChangesPage::showRevisions()
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    const auto &catalogue = m_session.catalogue();
    m_next->setCurrentIndex(0);
    const auto before = revisions::asOf(*car, m_from->currentData().toInt());
    const auto after = revisions::asOf(*car, m_to->currentData().toInt());
    if (!before || !after)
        return;
    Shown s;
    s.after = *after;
    s.rebuild = revisions::rebuild(*before, {*after, catalogue});
    if (const auto *r = revisions::finished(*car, m_to->currentData().toInt()))
        s.headline = tr("%1: %2").arg(str(r->date), str(r->reason));
    else
        s.headline = tr("Changed since then, not finished yet");
    showIt(std::move(s));
}

void ChangesPage::showImpossible(const pins::PinPlan &plan)
{
    Shown s;
    s.after = *m_session.car();
    s.headline = tr("No map of the pins exists.");
    s.notes << str(plan.proof);
    for (const auto &w : plan.waysOut)
        s.notes << tr("Way out: %1; %2.").arg(str(w.what), str(w.cost));
    showIt(std::move(s));
}

void ChangesPage::planPins()
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    const auto &catalogue = m_session.catalogue();
    const auto problem = pins::pinProblem({*car, catalogue});
    if (problem.board == nullptr)
        return emit m_session.said(tr("This car has no board: there are no pins to plan."), true);
    const auto plan = pins::planPins(problem);
    if (!plan.possible())
        return showImpossible(plan);
    Shown s;
    s.after = pins::withPlan(*car, catalogue, plan);
    s.rebuild = revisions::rebuild(*car, {s.after, catalogue});
    s.headline =
        plan.moves + plan.additions == 0
            ? tr("The pins are right as they are: nothing moves.")
            : tr("%1 to move, %2 to add: fewer do not do it.").arg(plan.moves).arg(plan.additions);
    s.proposed = !s.rebuild.changes.empty();
    showIt(std::move(s));
}

void ChangesPage::planExercise()
{
    const auto *car = m_session.car();
    const auto key = m_next->currentData().toString().toStdString();
    if (car == nullptr || key.empty())
        return showRevisions();
    const auto next = edit::nextExercise({*car, m_session.catalogue()}, key);
    if (!next) {
        m_next->setCurrentIndex(0);
        return emit m_session.said(str(next.error().text()), true);
    }
    if (!next->plan.possible())
        return showImpossible(next->plan);
    Shown s;
    s.after = next->car;
    s.rebuild = next->rebuild;
    const auto list = [](const std::vector<std::string> &all) {
        QStringList words;
        for (const auto &w : all)
            words << str(w);
        return words.join(", ");
    };
    s.headline = tr("For '%1': %2 to move, %3 to add, %4 to remove.")
                     .arg(m_next->currentText())
                     .arg(next->rebuild.changes.moved.size())
                     .arg(next->rebuild.changes.added.size())
                     .arg(next->rebuild.changes.removed.size());
    if (!next->added.empty())
        s.notes << tr("Fitted besides: %1.").arg(list(next->added));
    if (!next->idle.empty())
        s.notes << tr("Not used, stays: %1.").arg(list(next->idle));
    if (!next->cleared.empty())
        s.notes << tr("In the way, its signals come off: %1.").arg(list(next->cleared));
    s.notes << troubles(*car, next->car);
    s.proposed = !(next->car == *car);
    showIt(std::move(s));
}

/// What the next build would be told that this one is not.
QStringList ChangesPage::troubles(const kit::Car &before, const kit::Car &after) const
{
    const auto &catalogue = m_session.catalogue();
    const auto c = judge::compare(before, {after, catalogue}, std::nullopt);
    auto found = c.onlyB;
    const auto wiring = wiring::check({after, catalogue}).findings;
    found.insert(found.end(), wiring.begin(), wiring.end());
    QStringList words;
    for (const auto &f : found)
        if (f.severity != Severity::Advice)
            words << tr("Mind: %1 %2").arg(str(f.what), str(f.mend));
    return words;
}

void ChangesPage::addWords(const QString &text, const char *property)
{
    auto *label = new QLabel(text);
    label->setWordWrap(true);
    label->setProperty(property, true);
    m_list->addWidget(label);
}

void ChangesPage::addStep(int number, const revisions::HandStep &step)
{
    auto *line = new QHBoxLayout;
    line->setSpacing(m_theme.space(2));
    auto *count = new QLabel(QString::number(number));
    count->setProperty("figures", true);
    count->setFixedWidth(qRound(22 * m_theme.scale()));
    count->setAlignment(Qt::AlignRight | Qt::AlignTop);
    line->addWidget(count);
    auto *swatch = new QLabel;
    QPixmap colour(qRound(12 * m_theme.scale()), qRound(12 * m_theme.scale()));
    colour.fill(step.wire.colour.empty() ? m_theme.color(Tone::Stand)
                                         : m_theme.wire(str(step.wire.colour)));
    QPainter edge(&colour);
    edge.setPen(m_theme.color(Tone::Ink));
    edge.drawRect(0, 0, colour.width() - 1, colour.height() - 1);
    edge.end();
    swatch->setPixmap(colour);
    line->addWidget(swatch, 0, Qt::AlignTop);
    auto *words = new QLabel(str(step.text));
    words->setWordWrap(true);
    line->addWidget(words, 1);
    m_list->addLayout(line);
}

void ChangesPage::showIt(Shown shown)
{
    m_shown = std::move(shown);
    emptyLayout(*m_list);
    m_take->setEnabled(m_shown.proposed);
    HarnessChanges overlay;
    int number = 0;
    for (const auto &s : m_shown.rebuild.steps) {
        ++number;
        if (s.act != revisions::HandStep::Act::Lift)
            overlay.numbers[str(s.wire.from) + '\n' + str(s.wire.to)] = number;
    }
    for (const auto &m : m_shown.rebuild.changes.moved)
        overlay.gone.push_back(m.before);
    overlay.gone.insert(overlay.gone.end(), m_shown.rebuild.changes.removed.begin(),
                        m_shown.rebuild.changes.removed.end());
    m_harness->show(m_shown.after, m_session.catalogue(), {});
    m_harness->showChanges(std::move(overlay));

    addWords(m_shown.headline, "heading");
    for (const auto &n : m_shown.notes)
        addWords(n, "small");
    if (!m_shown.rebuild.steps.empty())
        addWords(tr("Power off and cells out before a wire is moved."), "caution");
    number = 0;
    for (const auto &s : m_shown.rebuild.steps)
        addStep(++number, s);
    const auto &stale = m_shown.rebuild.stale;
    if (!stale.constants.empty())
        addWords(tr("Stale in the program"), "heading");
    for (const auto &c : stale.constants)
        addWords((c.behind ? tr("%1: the wire is on %2, the program still says %3")
                           : tr("%1: %2, was %3"))
                     .arg(str(c.terminal), c.after.empty() ? tr("none") : str(c.after),
                          c.before.empty() ? tr("none") : str(c.before)),
                 "small");
    if (!stale.partTests.empty() || !stale.calibrations.empty() || !stale.trials.empty())
        addWords(tr("To repeat"), "heading");
    QStringList tests;
    for (const auto &t : stale.partTests)
        tests << str(t);
    if (!tests.isEmpty())
        addWords(tr("part tests of %1").arg(tests.join(", ")), "small");
    for (const auto *list : {&stale.calibrations, &stale.trials})
        for (const auto &t : *list)
            addWords(str(t), "small");
    m_list->addStretch(1);
    emit sumChanged();
}

void ChangesPage::takePlan()
{
    if (!m_shown.proposed)
        return;
    const auto after = m_shown.after;
    const auto reason = m_next->currentIndex() > 0
                            ? tr("re-pinned for '%1'").arg(m_next->currentText())
                            : tr("pins planned anew");
    if (editWiring(m_session, tr("Take the pin plan"), [&](kit::Car &car) { car = after; })) {
        m_reason->setText(reason); // a proposal; the person says it in their own words
        m_reason->setFocus();
        m_reason->selectAll();
    }
}

void ChangesPage::finish()
{
    const auto reason = m_reason->text().trimmed().toStdString();
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    auto tried = *car; // the sentence of a refusal comes from core
    if (const auto ok = revisions::finish(tried, today(), reason); !ok) {
        m_reason->setFocus();
        return emit m_session.said(str(ok.error().text()), true);
    }
    if (editWiring(m_session, tr("Finish revision %1").arg(tried.wiringRevision),
                   [&](kit::Car &edited) { edited = tried; }))
        m_reason->clear();
}

void ChangesPage::refresh()
{
    const auto *car = m_session.car();
    setEnabled(car != nullptr);
    m_finish->setVisible(car && revisions::isOpen(*car) && !car->wires.empty());
    if (m_session.carId() != m_car) {
        m_car = m_session.carId();
        m_reason->clear();
    }
    if (car == nullptr) {
        m_seen.reset();
        m_from->clear();
        m_to->clear();
        emptyLayout(*m_list);
        return m_harness->showNothing(tr("No car yet."));
    }
    // What is looked at, a plan or two revisions, stays until the car itself is another: a search
    // that ends in the background is no reason to take it away.
    if (m_seen == *car)
        return showIt(m_shown);
    m_seen = *car;
    fillChoices(*car);
    showRevisions();
}

std::optional<Sum> ChangesPage::sum() const
{
    Sum sum;
    const auto &c = m_shown.rebuild.changes;
    const auto n = m_shown.rebuild.steps.size();
    sum.result = c.empty() ? tr("no change") : n == 1 ? tr("1 step") : tr("%1 steps").arg(n);
    const auto say = [&](size_t count, const QString &what) {
        if (count > 0)
            sum.parts.push_back({QString::number(count), what});
    };
    say(c.removed.size(), tr("off"));
    say(c.moved.size(), tr("moved"));
    say(c.added.size(), tr("added"));
    say(m_shown.rebuild.stale.constants.size(), tr("constants stale"));
    for (const auto &s : m_shown.rebuild.steps)
        sum.derivation.push_back({str(s.stays), str(s.at), str(s.text), {}});
    return sum;
}

} // namespace badger::app
