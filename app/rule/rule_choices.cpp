// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/rule_choices.h"

#include "app/document/edits.h"
#include "app/widgets/text.h"
#include "core/judge/budget.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>

namespace badger::app
{

using units::Dimension;
using units::Unit;

namespace
{

constexpr std::array<rules::NoEcho, 5> policies = {rules::NoEcho::Clear, rules::NoEcho::Blocked,
                                                   rules::NoEcho::HoldLast, rules::NoEcho::Stop,
                                                   rules::NoEcho::Ignore};

QString policyName(rules::NoEcho policy)
{
    switch (policy) {
    case rules::NoEcho::Clear:
        return RuleChoices::tr("clear");
    case rules::NoEcho::Blocked:
        return RuleChoices::tr("blocked");
    case rules::NoEcho::HoldLast:
        return RuleChoices::tr("the last reading");
    case rules::NoEcho::Stop:
        return RuleChoices::tr("stop");
    case rules::NoEcho::Ignore:
        return RuleChoices::tr("ignored");
    case rules::NoEcho::Unset:
        break;
    }
    return RuleChoices::tr("choose ...");
}

/// The rule pair that states a limit once: the nearer side and the farther side of one value.
void setCompare(rules::Program &program, const std::string &value, bool inclusive)
{
    using rules::Compare;
    const auto through = [&](std::vector<rules::Rule> &all) {
        for (auto &rule : all)
            for (auto &c : rule.when) {
                if (c.value != value)
                    continue;
                const bool nearer = c.compare == Compare::Less || c.compare == Compare::LessOrEqual;
                c.compare = nearer ? (inclusive ? Compare::LessOrEqual : Compare::Less)
                                   : (inclusive ? Compare::Greater : Compare::GreaterOrEqual);
            }
    };
    through(program.everywhere);
    for (auto &s : program.states)
        through(s.rules);
}

} // namespace

RuleChoices::RuleChoices(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme)
{
    makeRows();
    connectEdits();
}

void RuleChoices::makeFields()
{
    m_compare = new Choice({QStringLiteral("≤"), QStringLiteral("<")});
    m_threshold = new QuantityField(Dimension::Length, Unit::Centimetre);
    m_threshold->setObjectName("threshold");
    m_noEcho = new QComboBox;
    m_noEcho->setObjectName("noEcho");
    m_noEcho->addItem(policyName(rules::NoEcho::Unset));
    for (const auto p : policies)
        m_noEcho->addItem(policyName(p));
    m_speed = new QuantityField(Dimension::PwmCounts, Unit::Count);
    m_stopBy = new Choice({tr("brake"), tr("coast")});
    m_numbers = new Choice({tr("whole"), tr("fractions")});
    m_pause = new QuantityField(Dimension::Time, Unit::Millisecond);
    m_air = new QuantityField(Dimension::Temperature, Unit::Celsius);
    m_limit = new QuantityField(Dimension::Length, Unit::Centimetre);
    m_median = new QComboBox;
    for (const int n : {1, 3, 5, 7})
        m_median->addItem(QString::number(n), n);
    m_prints = new QComboBox;
    m_prints->setObjectName("prints");
    m_prints->setToolTip(tr("One line a pass, at this baud rate"));
    m_prints->addItem(tr("off"), 0);
    for (const int baud : {1200, 9600, 38400, 115200})
        m_prints->addItem(QString::number(baud), baud);
    m_setBack = new QuantityField(Dimension::Length, Unit::Centimetre);
    m_setBack->setObjectName("setBack");
    m_setBack->setToolTip(tr("How far the ranger sits behind the car's foremost point"));
    m_wanted = new QuantityField(Dimension::Length, Unit::Centimetre);
    for (auto *f : {m_threshold, m_speed, m_pause, m_air, m_limit, m_wanted})
        f->setHint(QStringLiteral("?"));
    m_inverse = new QLabel;
    m_inverse->setProperty("small", true);
    m_useLeast = new QPushButton;
    m_useLeast->setProperty("link", true);
    m_useLeast->setCursor(Qt::PointingHandCursor);
}

void RuleChoices::makeRows()
{
    makeFields();
    auto *rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(2);
    QHBoxLayout *row = nullptr;
    const auto newRow = [&] {
        row = new QHBoxLayout;
        row->setSpacing(m_theme.space(2));
        rows->addLayout(row);
    };
    const auto add = [&](const QString &name, QWidget *field, int width, QWidget *second = nullptr,
                         int secondWidth = 0) {
        auto *label = new QLabel(name);
        label->setProperty("small", true);
        label->setBuddy(field);
        row->addWidget(label);
        for (const auto &[w, px] : {std::pair{field, width}, {second, secondWidth}}) {
            if (w == nullptr)
                continue;
            if (px > 0)
                w->setFixedWidth(qRound(px * m_theme.scale()));
            w->setAccessibleName(name);
            row->addWidget(w);
        }
        row->addSpacing(m_theme.space(2));
    };
    newRow();
    add(tr("Stop at"), m_compare, 0, m_threshold, 78);
    add(tr("No echo is"), m_noEcho, 122);
    add(tr("Speed /255"), m_speed, 48);
    add(tr("Stop by"), m_stopBy, 0);
    row->addStretch(1);
    newRow();
    add(tr("Numbers"), m_numbers, 0);
    add(tr("Pause"), m_pause, 62);
    add(tr("Air"), m_air, 58);
    add(tr("Reads to"), m_limit, 78);
    add(tr("Median of"), m_median, 46);
    row->addStretch(1);
    newRow();
    add(tr("Prints"), m_prints, 72);
    add(tr("Set-back"), m_setBack, 60);
    add(tr("Wanted gap"), m_wanted, 66);
    row->addWidget(m_inverse);
    row->addWidget(m_useLeast);
    row->addStretch(1);
}

void RuleChoices::edit(const QString &text, const std::function<void(rules::Program &)> &change,
                       int drag)
{
    if (!m_session.editProgram(text, change, drag))
        refresh(); // the fields show what is, not what was refused
}

void RuleChoices::editCar(const QString &text, const std::function<void(kit::Car &)> &change)
{
    if (!m_session.editCar(text, change))
        refresh();
}

const rules::Reading *RuleChoices::reading() const
{
    const auto *program = m_session.program();
    if (program == nullptr || program->readings.empty())
        return nullptr;
    const auto *stopping = m_session.stopRule().reading;
    return stopping ? stopping : &program->readings.front();
}

void RuleChoices::editReading(const QString &text,
                              const std::function<void(rules::Reading &)> &change)
{
    const auto *shown = reading();
    if (shown == nullptr)
        return;
    edit(text, [&, name = shown->name](rules::Program &p) {
        for (auto &r : p.readings)
            if (r.name == name)
                change(r);
    });
}

void RuleChoices::setValue(const std::string &name, const QString &text, double si, int drag)
{
    edit(
        text,
        [&](rules::Program &p) {
            for (auto &v : p.values)
                if (v.name == name)
                    v.si = si;
        },
        drag);
}

void RuleChoices::moveThreshold(double threshold_m, int drag)
{
    if (const auto *stop = m_session.stopRule().value)
        setValue(stop->name, tr("Move the threshold"), threshold_m, drag);
}

/// How the ranger is read.
void RuleChoices::connectReading()
{
    connect(m_numbers, &Choice::chosen, this, [this](int i) {
        editReading(tr("Choose the numbers"), [i](rules::Reading &r) {
            r.number = i == 0 ? rules::NumberType::Whole : rules::NumberType::Fraction;
        });
    });
    connect(m_air, &QuantityField::taken, this, [this](double t) {
        editReading(tr("Set the air temperature"), [t](rules::Reading &r) { r.air_degC = t; });
    });
    connect(m_limit, &QuantityField::taken, this, [this](double m) {
        editReading(tr("Set the farthest reading"), [m](rules::Reading &r) { r.limit_m = m; });
    });
    connect(m_median, &QComboBox::activated, this, [this](int i) {
        const int n = m_median->itemData(i).toInt();
        editReading(tr("Choose the median"), [n](rules::Reading &r) { r.medianOf = n; });
    });
}

void RuleChoices::connectEdits()
{
    connectReading();
    connect(m_threshold, &QuantityField::taken, this,
            [this](double si) { moveThreshold(si, Edit::noDrag); });
    connect(m_compare, &Choice::chosen, this, [this](int i) {
        if (const auto *stop = m_session.stopRule().value)
            edit(tr("Change the comparison"),
                 [name = stop->name, i](rules::Program &p) { setCompare(p, name, i == 0); });
    });
    connect(m_noEcho, &QComboBox::activated, this, [this](int i) {
        editReading(tr("Choose what no echo means"), [i](rules::Reading &r) {
            r.noEcho = i == 0 ? rules::NoEcho::Unset : policies[static_cast<size_t>(i - 1)];
        });
    });
    connect(m_speed, &QuantityField::taken, this, [this](double counts) {
        const auto *program = m_session.program();
        const auto *goes = program ? judge::goState(*program) : nullptr;
        if (goes)
            setValue(goes->motion.left.speed, tr("Set the speed"), counts, Edit::noDrag);
    });
    connect(m_pause, &QuantityField::taken, this, [this](double s) {
        if (const auto *program = m_session.program())
            setValue(program->passWait, tr("Set the pause"), s, Edit::noDrag);
    });
    connect(m_stopBy, &Choice::chosen, this, [this](int i) {
        if (const auto *stop = m_session.stopRule().state)
            edit(tr("Choose brake or coast"), [name = stop->name, i](rules::Program &p) {
                for (auto &s : p.states)
                    if (s.name == name)
                        s.motion.wheels = i == 0 ? rules::Wheels::Brake : rules::Wheels::Coast;
            });
    });
    connect(m_prints, &QComboBox::activated, this, [this](int i) {
        const int baud = m_prints->itemData(i).toInt();
        edit(tr("Choose the prints"), [baud](rules::Program &p) {
            p.prints.on = baud > 0;
            if (baud > 0)
                p.prints.baud = baud;
        });
    });
    connectCar();
    for (auto *f : {m_threshold, m_speed, m_pause, m_air, m_limit, m_setBack, m_wanted})
        connect(f, &QuantityField::refused, this,
                [this](const QString &reason) { emit m_session.said(reason, true); });
}

void RuleChoices::connectCar()
{
    connect(m_setBack, &QuantityField::taken, this, [this](double m) {
        const auto *shown = reading();
        if (shown == nullptr)
            return;
        editCar(tr("Move the ranger"), [m, id = shown->instance](kit::Car &car) {
            for (auto &i : car.parts)
                if (i.id == id && i.mount)
                    i.mount->setBack_m = m;
        });
    });
    connect(m_wanted, &QuantityField::taken, this, [this](double m) {
        editCar(tr("Set the wanted gap"), [m](kit::Car &car) { car.wantedGap_m = m; });
    });
    connect(m_useLeast, &QPushButton::clicked, this, [this] {
        const auto *j = m_session.current();
        if (j && j->budget && j->budget->leastThreshold_m)
            moveThreshold(std::ceil(*j->budget->leastThreshold_m * 100.0 - 1e-6) / 100.0,
                          Edit::noDrag);
    });
}

void RuleChoices::showAbsent()
{
    for (auto *f : {m_threshold, m_speed, m_pause, m_air, m_limit, m_setBack, m_wanted})
        f->setValue(std::nullopt);
    for (auto *c : {m_compare, m_stopBy, m_numbers})
        c->setIndex(-1);
    for (auto *b : {m_noEcho, m_median, m_prints})
        b->setCurrentIndex(-1);
}

void RuleChoices::refresh()
{
    const auto *program = m_session.program();
    const auto *car = m_session.car();
    const auto *shown = reading();
    const bool usable = shown != nullptr;
    for (auto *w : std::initializer_list<QWidget *>{m_compare, m_threshold, m_noEcho, m_speed,
                                                    m_stopBy, m_numbers, m_pause, m_air, m_limit,
                                                    m_median, m_prints, m_setBack, m_wanted})
        w->setEnabled(usable);
    m_inverse->clear();
    m_useLeast->hide();
    if (!usable) {
        showAbsent();
        return;
    }
    const auto &r = *shown;
    const auto rule = m_session.stopRule();
    const auto *stop = rule.value;
    const auto *stops = rule.state;
    const auto *goes = judge::goState(*program);
    m_threshold->setValue(stop ? stop->si : std::nullopt);
    m_compare->setIndex(stop ? (rule.inclusive ? 0 : 1) : -1);
    int policy = 0;
    for (size_t i = 0; i < policies.size(); ++i)
        if (policies[i] == r.noEcho)
            policy = static_cast<int>(i) + 1;
    m_noEcho->setCurrentIndex(policy);
    const auto *speed = goes ? program->value(goes->motion.left.speed) : nullptr;
    m_speed->setValue(speed ? speed->si : std::nullopt);
    m_stopBy->setIndex(stops ? (stops->motion.wheels == rules::Wheels::Coast ? 1 : 0) : -1);
    m_numbers->setIndex(r.number == rules::NumberType::Whole ? 0 : 1);
    const auto *pause = program->value(program->passWait);
    m_pause->setValue(pause ? pause->si : std::nullopt);
    m_air->setValue(r.air_degC);
    m_limit->setValue(r.limit_m);
    m_median->setCurrentIndex(m_median->findData(r.medianOf));
    m_prints->setCurrentIndex(m_prints->findData(program->prints.on ? program->prints.baud : 0));
    const auto *ranger = car->instance(r.instance);
    m_setBack->setValue(ranger && ranger->mount ? std::optional(ranger->mount->setBack_m)
                                                : std::nullopt);
    m_wanted->setValue(car->wantedGap_m);
    const auto *j = m_session.current();
    if (!j || !j->budget || !j->budget->leastThreshold_m)
        return;
    const auto least = *j->budget->leastThreshold_m;
    auto words = tr("needs %1 or more").arg(str(units::fixed(least, Unit::Centimetre, 2)));
    if (j->budget->greatestSpeed_mps && std::isfinite(*j->budget->greatestSpeed_mps))
        words +=
            tr(", or %1 at most")
                .arg(str(units::fixed(*j->budget->greatestSpeed_mps, Unit::MetrePerSecond, 2)));
    m_inverse->setText(words);
    const double rounded = std::ceil(least * 100.0 - 1e-6) / 100.0;
    m_useLeast->setText(tr("use %1").arg(str(units::quantity(rounded, Unit::Centimetre, 2))));
    m_useLeast->setVisible(stop && stop->si && std::abs(*stop->si - rounded) > 1e-6);
}

void RuleChoices::focusOn(const QString &target)
{
    if (target.startsWith("policy:"))
        return m_noEcho->setFocus();
    if (target.startsWith("reading:"))
        return m_limit->setFocus();
    const auto *program = m_session.program();
    if (program == nullptr || !target.startsWith("value:"))
        return;
    const auto name = target.mid(6).toStdString();
    const auto *goes = judge::goState(*program);
    if (name == program->passWait)
        m_pause->setFocus();
    else if (goes && name == goes->motion.left.speed)
        m_speed->setFocus();
    else
        m_threshold->setFocus();
}

} // namespace badger::app
