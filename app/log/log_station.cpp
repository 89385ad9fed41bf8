// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/log/log_station.h"

#include "app/document/edits.h"

#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"
#include "core/judge/sums.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <cmath>

namespace badger::app
{

using units::Dimension;
using units::Unit;

namespace
{

constexpr double claimedRate = 0.01;
constexpr double confidence = 0.95;

} // namespace

/// What follows from the runs: the next threshold, and a roll-out.
QWidget *LogStation::makeNext()
{
    auto *right = new QVBoxLayout;
    right->setSpacing(theme().space(1));
    auto *heading = new QLabel(tr("The next threshold"));
    heading->setProperty("heading", true);
    m_proposal = new QLabel;
    m_proposal->setWordWrap(true);
    m_proposal->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_use = new QPushButton;
    m_use->setObjectName("useProposal");
    connect(m_use, &QPushButton::clicked, this, [this] {
        const auto *stop = this->session().stopRule().value;
        if (!m_next || !stop)
            return;
        this->session().editProgram(tr("Use the proposed threshold"),
                                    [name = stop->name, next = m_next->next_m](rules::Program &p) {
                                        for (auto &v : p.values)
                                            if (v.name == name)
                                                v.si = next;
                                    });
    });
    m_claim = new QLabel;
    m_claim->setWordWrap(true);
    m_claim->setProperty("quiet", true);
    right->addWidget(heading);
    right->addWidget(m_proposal);
    right->addWidget(m_use, 0, Qt::AlignLeft);
    right->addWidget(m_claim);
    m_roll = new QLabel;
    m_roll->setWordWrap(true);
    m_useRoll = new QPushButton;
    m_useRoll->setObjectName("useRoll");
    connect(m_useRoll, &QPushButton::clicked, this, &LogStation::useRoll);
    right->addWidget(m_roll);
    right->addWidget(m_useRoll, 0, Qt::AlignLeft);
    right->addStretch(1);
    // What does not fit scrolls: a projector's type, a roll-out besides.
    auto *says = new QWidget;
    right->setContentsMargins(0, 0, 0, 0);
    says->setLayout(right);
    auto *saysScroll = new QScrollArea;
    saysScroll->setWidgetResizable(true);
    saysScroll->setFrameShape(QFrame::NoFrame);
    saysScroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    saysScroll->setWidget(says);
    return saysScroll;
}

LogStation::LogStation(Session &session, const Theme &theme, QWidget *parent)
    : StationView(session, theme, parent)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, theme.space(2));
    layout->setSpacing(theme.space(2));
    m_ruler = new GapRuler(theme);
    layout->addWidget(m_ruler);
    layout->addWidget(makeEntry());

    auto *lower = new QHBoxLayout;
    lower->setSpacing(theme.space(6));
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *content = new QWidget;
    m_list = new QVBoxLayout(content);
    m_list->setContentsMargins(0, 0, 0, 0);
    m_list->setSpacing(theme.space(1));
    scroll->setWidget(content);
    lower->addWidget(scroll, 3);

    lower->addWidget(makeNext(), 2);
    layout->addLayout(lower, 1);
}

QWidget *LogStation::makeEntry()
{
    auto *holder = new QWidget;
    auto *row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme().space(2));
    const auto add = [&](const QString &name, QWidget *field, int width) {
        auto *label = new QLabel(name);
        label->setProperty("small", true);
        label->setBuddy(field);
        field->setAccessibleName(name);
        if (width > 0)
            field->setFixedWidth(qRound(width * theme().scale()));
        row->addWidget(label);
        row->addWidget(field);
    };
    m_battery = new QuantityField(Dimension::Voltage, Unit::Volt);
    m_battery->setObjectName("trialBattery");
    m_battery->setHint("7.6 V");
    m_gap = new QuantityField(Dimension::Length, Unit::Centimetre);
    m_gap->setObjectName("trialGap");
    m_gap->setHint(str(units::quantity(0.27, Unit::Centimetre, 0)));
    m_floor = new QComboBox;
    m_contact = new QCheckBox(tr("contact"));
    m_note = new QLineEdit;
    m_note->setPlaceholderText(tr("note"));
    m_enter = new QPushButton(tr("Enter the &run"));
    m_enter->setObjectName("trialEnter");
    add(tr("Battery first"), m_battery, 72);
    add(tr("Gap by ruler"), m_gap, 78);
    row->addWidget(m_contact);
    add(tr("Floor"), m_floor, 0);
    row->addWidget(m_note, 1);
    row->addWidget(m_enter);
    const auto keep = [this](QuantityField *field, std::optional<double> &kept) {
        connect(field, &QuantityField::taken, this, [field, &kept](double si) {
            kept = si;
            field->setValue(si);
        });
        connect(field, &QuantityField::refused, this,
                [this](const QString &reason) { emit session().said(reason, true); });
    };
    keep(m_battery, m_battery_V);
    keep(m_gap, m_gap_m);
    connect(m_contact, &QCheckBox::toggled, m_gap, &QWidget::setDisabled);
    connect(m_enter, &QPushButton::clicked, this, &LogStation::enter);
    connect(m_note, &QLineEdit::returnPressed, this, &LogStation::enter);
    return holder;
}

void LogStation::enter()
{
    const auto *car = session().car();
    const auto *program = session().program();
    const auto *j = session().current();
    if (car == nullptr || program == nullptr || !j || !j->budget)
        return emit session().said(
            tr("A run belongs to a program: complete it at the Rule station first."), true);
    if (!m_battery_V)
        return emit session().said(
            tr("Battery: no value is given; measure the pack before the run, as 7.6 V"), true);
    const bool contact = m_contact->isChecked();
    if (!contact && !m_gap_m)
        return emit session().said(
            tr("Gap: no value is given; read the ruler at the board, as %1, or tick contact")
                .arg(m_gap->placeholderText()),
            true);
    logbook::MeasuredTrial t;
    t.id = newId<logbook::MeasuredTrial>(session().document().ids());
    t.car = car->id;
    t.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    t.floor = {m_floor->currentData().toString().toStdString()};
    t.floorName = m_floor->currentText().toStdString();
    t.program = program->id;
    t.programName = program->name;
    t.programVersion = program->version;
    t.threshold_m = j->budget->setup.threshold_m;
    t.pwm_counts = j->budget->pwm_counts;
    t.battery_V = *m_battery_V;
    t.contact = contact;
    if (!contact)
        t.gap_m = m_gap_m;
    t.predictedWorst_m = j->budget->budget.worstGap_m;
    t.predictedTypical_m = j->budget->budget.typicalGap_m;
    t.note = m_note->text().toStdString();
    const auto ok = change(session().document(), tr("Enter a run"),
                           [&](workshop::Workshop &w) { w.trials.push_back(t); });
    if (!ok)
        return emit session().said(str(ok.error().text()), true);
    m_gap_m.reset();
    m_gap->setValue(std::nullopt);
    m_contact->setChecked(false);
    m_note->clear();
    m_gap->setFocus();
}

void LogStation::remove(const Id<logbook::MeasuredTrial> &id)
{
    session().edit(tr("Remove a run"), [&](workshop::Workshop &w) {
        w.trials.eraseIf([&](const logbook::MeasuredTrial &t) { return t.id == id; });
    });
}

QString LogStation::comparison(const logbook::MeasuredTrial &t) const
{
    if (t.contact)
        return tr("contact");
    if (!t.gap_m)
        return tr("no gap noted");
    auto words = tr("%1 left, overshoot %2").arg(cm(*t.gap_m), cm(t.threshold_m - *t.gap_m));
    if (t.predictedWorst_m)
        words +=
            *t.gap_m >= *t.predictedWorst_m - 0.005
                ? tr(", as predicted")
                : tr(", %1 less than predicted at worst").arg(cm(*t.predictedWorst_m - *t.gap_m));
    return words;
}

QWidget *LogStation::makeRow(const logbook::MeasuredTrial &t)
{
    auto *row = new QWidget;
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    auto *texts = new QVBoxLayout;
    texts->setSpacing(0);
    auto *what = new QLabel(comparison(t));
    auto *when = new QLabel(tr("%1 · %2 · %3 · threshold %4 · version %5%6%7")
                                .arg(str(t.date), str(units::quantity(t.battery_V, Unit::Volt, 2)),
                                     str(workshop::floorName(session().workshop(), t)),
                                     cm(t.threshold_m), QString::number(t.programVersion),
                                     t.sample ? tr(" · sample") : QString(),
                                     t.note.empty() ? QString() : " · " + str(t.note)));
    for (auto *l : {what, when}) {
        l->setTextFormat(Qt::PlainText);
        l->setWordWrap(true);
    }
    when->setProperty("small", true);
    texts->addWidget(what);
    texts->addWidget(when);
    layout->addLayout(texts, 1);
    auto *out = new QPushButton(tr("remove"));
    out->setProperty("link", true);
    connect(out, &QPushButton::clicked, this, [this, id = t.id] { remove(id); });
    layout->addWidget(out);
    return row;
}

void LogStation::refreshList()
{
    emptyLayout(*m_list);
    const auto *j = session().current();
    if (j == nullptr)
        return;
    const auto addHeading = [&](const QString &text) {
        auto *label = new QLabel(text);
        label->setProperty("heading", true);
        m_list->addWidget(label);
    };
    const auto addAll = [&](const Pieces<logbook::MeasuredTrial> &trials) {
        size_t shown = 0;
        for (auto it = trials.rbegin(); it != trials.rend(); ++it) {
            if (shown++ == m_mostRows) {
                auto *more = new QPushButton(
                    tr("show more: %1 earlier runs").arg(trials.size() - m_mostRows));
                more->setProperty("link", true);
                connect(more, &QPushButton::clicked, this, [this] {
                    m_mostRows += rowsAtOnce;
                    refreshList();
                });
                m_list->addWidget(more, 0, Qt::AlignLeft);
                break;
            }
            m_list->addWidget(makeRow(*it));
        }
    };
    addHeading(tr("Runs with the program as it stands"));
    if (j->measured.empty()) {
        auto *none = new QLabel(tr("None yet. Measure the pack, run the car, read the ruler."));
        none->setProperty("quiet", true);
        none->setWordWrap(true);
        m_list->addWidget(none);
    }
    addAll(j->measured);
    if (!j->older.empty()) {
        addHeading(tr("Older runs, with other settings"));
        addAll(j->older);
    }
    m_list->addStretch(1);
}

void LogStation::refreshProposal()
{
    const auto *car = session().car();
    const auto *j = session().current();
    m_next.reset();
    m_use->hide();
    m_claim->clear();
    if (car == nullptr || j == nullptr)
        return m_proposal->clear();
    if (!car->wantedGap_m)
        return m_proposal->setText(tr("Say at the Rule station which gap is wanted."));
    const auto next = logbook::propose(j->measured, *car->wantedGap_m);
    if (!next)
        return m_proposal->setText(str(next.error().text()));
    m_next = *next;
    const auto &n = *next;
    QString words = tr("Overshoot: %1 − %2 = %3 on average.\n")
                        .arg(cm(n.threshold_m), cm(n.meanGap_m, 2), cm(n.overshoot_m, 2));
    words += n.margin_m ? tr("%1 wanted + %2 overshoot + %3 for the spread of %4 runs = %5.")
                              .arg(cm(n.wantedGap_m), cm(n.overshoot_m, 2), cm(*n.margin_m, 2))
                              .arg(n.runs)
                              .arg(cm(n.exact_m, 2))
                        : tr("%1 wanted + %2 overshoot = %3. One run has no spread: run it again.")
                              .arg(cm(n.wantedGap_m), cm(n.overshoot_m, 2), cm(n.exact_m, 2));
    m_proposal->setText(words);
    m_use->setText(tr("Use %1").arg(str(units::quantity(n.next_m, Unit::Centimetre, 2))));
    m_use->setVisible(std::abs(n.next_m - n.threshold_m) > 1e-6);
    const auto stats = logbook::statistics(j->measured);
    const auto bound = logbook::contactRateBound(stats->contacts, stats->runs, confidence);
    const auto needed = logbook::runsToClaim(stats->contacts, claimedRate, confidence);
    if (bound && needed)
        m_claim->setText(tr("%1 contacts in %2 runs: the contact rate is below %3 % with "
                            "95 % confidence. To "
                            "claim 1 %, %4 more runs without contact are needed.")
                             .arg(stats->contacts)
                             .arg(stats->runs)
                             .arg(QString::number(*bound * 100.0, 'f', *bound < 0.1 ? 1 : 0))
                             .arg(std::max(0, *needed - stats->runs)));
}

void LogStation::refresh()
{
    const auto *car = session().car();
    const auto *j = session().current();
    setEnabled(car != nullptr);
    const auto keptFloor = m_floor->currentData();
    m_floor->clear();
    for (const auto &f : session().workshop().floors)
        m_floor->addItem(str(f.name), str(f.id.text));
    if (const int at = m_floor->findData(keptFloor); at >= 0)
        m_floor->setCurrentIndex(at);
    refreshList();
    refreshProposal();
    refreshRoll();
    GapContent c;
    if (j && car) {
        c.current = j->measured;
        c.older = j->older;
        c.budget = j->budget;
        c.wanted_m = car->wantedGap_m;
        c.proposal = m_next;
    }
    m_ruler->show(std::move(c));
}

Sum LogStation::sum() const
{
    if (!m_next)
        return {};
    Sum sum;
    sum.result = str(units::quantity(m_next->next_m, Unit::Centimetre, 2));
    sum.parts = {{"= " + cm(m_next->wantedGap_m), tr("wanted gap")},
                 {"+ " + cm(m_next->overshoot_m, 2), tr("mean overshoot")}};
    if (m_next->margin_m)
        sum.parts.push_back({"+ " + cm(*m_next->margin_m, 2), tr("for one more run, 95 %")});
    sum.aside = tr("rounded up to a whole centimetre");
    sum.unfold(judge::whyNext(*m_next));
    return sum;
}

} // namespace badger::app
