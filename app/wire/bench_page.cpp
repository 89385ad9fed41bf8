// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/bench_page.h"

#include "app/document/edits.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/quantity_field.h"
#include "app/widgets/text.h"
#include "app/wire/wire_edits.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace badger::app
{

using firstpower::Measure;
using firstpower::Verdict;
using units::Dimension;
using units::Unit;

BenchPage::BenchPage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session), m_theme(theme)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, theme.space(2));
    column->setSpacing(theme.space(2));
    m_view = new BenchView(theme);
    m_view->setObjectName("benchView");
    column->addWidget(m_view, 1);
    m_trouble = new QLabel;
    m_trouble->setObjectName("benchTrouble");
    m_trouble->setProperty("heading", true);
    m_trouble->setWordWrap(true);
    column->addWidget(m_trouble);
    m_caution = new QLabel;
    m_caution->setObjectName("benchCaution");
    m_caution->setProperty("caution", true);
    m_caution->setWordWrap(true);
    column->addWidget(m_caution);
    m_answer = new QHBoxLayout;
    m_answer->setSpacing(theme.space(2));
    column->addLayout(m_answer);
    connect(m_view, &BenchView::done, this, &BenchPage::done);
    connect(m_view, &BenchView::back, this, &BenchPage::back);
    connect(m_view, &BenchView::moved, this, [this](int by) {
        if (m_at >= 0)
            showAt(std::clamp(m_at + by, 0, int(m_items.size()) - 1));
    });
}

int BenchPage::firstOpen() const
{
    for (size_t i = 0; i < m_items.size(); ++i)
        if (m_items[i].state != Verdict::Right)
            return int(i); // a wrong one stops what follows
    return int(m_items.size()) - 1;
}

void BenchPage::setTick(const BenchItem &item, bool on)
{
    const auto key = item.key.toStdString();
    const auto items = m_items;
    m_session.editCar(on ? tr("Wire done") : tr("Wire not done"), [&](kit::Car &car) {
        std::erase(car.ticks, key);
        if (on)
            car.ticks.push_back(key);
        // Ticks of wires that are no more say nothing.
        std::erase_if(car.ticks, [&](const std::string &t) {
            return (t.starts_with("wire:") || t.starts_with("jumper:")) &&
                   std::none_of(items.begin(), items.end(),
                                [&](const BenchItem &i) { return i.key.toStdString() == t; });
        });
    });
}

void BenchPage::enter(std::optional<double> value, bool asExpected)
{
    const auto key = m_items[size_t(m_at)].key.toStdString();
    const bool done = m_session.editCar(tr("Note what was found"), [&](kit::Car &car) {
        std::erase_if(car.walk, [&](const kit::WalkEntry &e) { return e.key == key; });
        car.walk.push_back({key, value, asExpected, car.wiringRevision, today(), {}});
    });
    if (!done)
        return;
    // Right: on to the next; wrong: the page stays and says what it means.
    if (m_items[size_t(m_at)].state == Verdict::Right)
        showAt(std::min(m_at + 1, int(m_items.size()) - 1));
}

void BenchPage::done()
{
    if (m_at < 0)
        return;
    const auto &item = m_items[size_t(m_at)];
    if (item.hand) {
        const int next = std::min(m_at + 1, int(m_items.size()) - 1);
        setTick(item, true);
        return showAt(next);
    }
    if (item.step->measure == Measure::Look)
        return enter(std::nullopt, true);
    emit m_session.said(tr("Type what the meter shows."), false);
    for (auto *field : findChildren<QuantityField *>("benchValue"))
        if (field->isVisibleTo(this))
            field->setFocus();
}

void BenchPage::back()
{
    if (m_at < 0)
        return;
    const int to = m_items[size_t(m_at)].state == Verdict::Open ? std::max(0, m_at - 1) : m_at;
    const auto item = m_items[size_t(to)];
    if (item.hand && item.state == Verdict::Right)
        setTick(item, false);
    if (item.step && item.state != Verdict::Open) {
        const auto key = item.key.toStdString();
        m_session.editCar(tr("Take a note back"), [&](kit::Car &car) {
            std::erase_if(car.walk, [&](const kit::WalkEntry &e) { return e.key == key; });
        });
    }
    showAt(to);
}

void BenchPage::makeAnswer()
{
    emptyLayout(*m_answer);
    if (m_at < 0)
        return;
    const auto &item = m_items[size_t(m_at)];
    const auto button = [this](const QString &text, const char *name, auto call) {
        auto *b = new QPushButton(text);
        b->setObjectName(name);
        b->setFocusPolicy(Qt::TabFocus); // the space bar stays with the picture
        connect(b, &QPushButton::clicked, this, call);
        m_answer->addWidget(b);
    };
    auto *where = new QLabel;
    where->setObjectName("benchPlace");
    const auto wires = std::count_if(m_items.begin(), m_items.end(),
                                     [](const BenchItem &i) { return i.hand.has_value(); });
    where->setText(item.hand ? tr("wire %1 of %2").arg(m_at + 1).arg(wires)
                             : tr("first power %1 of %2")
                                   .arg(m_at + 1 - int(wires))
                                   .arg(int(m_items.size()) - int(wires)));
    button(tr("Back"), "benchBack", [this] { back(); });
    m_answer->addWidget(where);
    m_answer->addStretch(1);
    if (item.hand)
        return button(tr("Done: space bar"), "benchDone", [this] { done(); });
    if (item.step->measure == Measure::Look) {
        button(tr("Not so"), "benchWrong", [this] { enter(std::nullopt, false); });
        return button(tr("As it should be: space bar"), "benchDone", [this] { done(); });
    }
    const auto measure = item.step->measure;
    auto *field = new QuantityField(measure == Measure::Ohms    ? Dimension::Resistance
                                    : measure == Measure::Volts ? Dimension::Voltage
                                                                : Dimension::Length,
                                    measure == Measure::Ohms    ? Unit::Ohm
                                    : measure == Measure::Volts ? Unit::Volt
                                                                : Unit::Centimetre);
    field->setObjectName("benchValue");
    field->setHint(tr("as read"));
    field->setFixedWidth(qRound(130 * m_theme.scale()));
    if (const auto *entry = firstpower::entryOf(*m_session.car(), item.step->key))
        field->setValue(entry->value);
    connect(field, &QuantityField::taken, this, [this](double si) { enter(si, false); });
    connect(field, &QuantityField::refused, this,
            [this](const QString &why) { emit m_session.said(why, true); });
    if (measure == Measure::Ohms)
        button(tr("OL: over its range"), "benchOver",
               [this] { enter(firstpower::overRange_ohm, false); });
    m_answer->addWidget(field);
}

void BenchPage::showAt(int index)
{
    m_at = index;
    const auto *car = m_session.car();
    if (car == nullptr || m_items.empty())
        return;
    m_view->show(*car, m_session.catalogue(), m_items, m_at);
    const auto &trouble = m_items[size_t(m_at)].trouble;
    m_trouble->setText(trouble.isEmpty() ? QString() : tr("Not yet: %1").arg(trouble));
    m_trouble->setVisible(!trouble.isEmpty());
    const auto &caution = m_items[size_t(m_at)].caution;
    m_caution->setText(caution);
    m_caution->setVisible(!caution.isEmpty());
    const bool typed =
        m_items[size_t(m_at)].step && m_items[size_t(m_at)].step->measure != Measure::Look;
    makeAnswer();
    if (isVisible() && !typed)
        m_view->setFocus();
    if (isVisible() && typed)
        for (auto *field : findChildren<QuantityField *>("benchValue"))
            if (field->isVisibleTo(this))
                field->setFocus();
    emit sumChanged();
}

void BenchPage::refresh()
{
    const auto *car = m_session.car();
    m_items = car ? benchItems({*car, m_session.catalogue()}, m_session.current()->wire.findings)
                  : std::vector<BenchItem>{};
    if (m_items.empty()) {
        m_at = -1;
        emptyLayout(*m_answer);
        m_caution->hide();
        m_trouble->hide();
        m_view->showNothing(car ? tr("No wire is drawn yet.\nDraw the harness, or plan the pins "
                                     "under Changes; then it is wired here, one by one.")
                                : tr("No car yet."));
        return;
    }
    const bool another = m_session.carId() != m_car;
    m_car = m_session.carId();
    if (another || m_at < 0 || m_at >= int(m_items.size()))
        m_at = firstOpen(); // where it was left
    showAt(m_at);
}

std::optional<Sum> BenchPage::sum() const
{
    Sum sum;
    int right = 0;
    int wrong = 0;
    for (const auto &i : m_items) {
        right += i.state == Verdict::Right;
        wrong += i.state == Verdict::Wrong;
        if (i.step)
            sum.derivation.push_back({str(i.step->title),
                                      i.state == Verdict::Right   ? tr("right")
                                      : i.state == Verdict::Wrong ? tr("wrong")
                                                                  : tr("open"),
                                      str(i.step->expected),
                                      i.state == Verdict::Wrong ? str(i.step->fails) : QString()});
    }
    sum.result = tr("%1 of %2").arg(right).arg(m_items.size());
    sum.parts.push_back({tr("done"), tr("wires, then first power")});
    if (wrong > 0)
        sum.parts.push_back({QString::number(wrong), tr("not as expected")});
    return sum;
}

} // namespace badger::app
