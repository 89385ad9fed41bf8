// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/rule_station.h"

#include "app/document/edits.h"

#include <QAction>
#include <QComboBox>
#include <QFileDialog>
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

constexpr std::array<rules::NoEcho, 5> policies = {rules::NoEcho::Clear, rules::NoEcho::Blocked,
                                                   rules::NoEcho::HoldLast, rules::NoEcho::Stop,
                                                   rules::NoEcho::Ignore};

QString policyName(rules::NoEcho policy)
{
    switch (policy) {
    case rules::NoEcho::Clear:
        return RuleStation::tr("clear");
    case rules::NoEcho::Blocked:
        return RuleStation::tr("blocked");
    case rules::NoEcho::HoldLast:
        return RuleStation::tr("the last reading");
    case rules::NoEcho::Stop:
        return RuleStation::tr("stop");
    case rules::NoEcho::Ignore:
        return RuleStation::tr("ignored");
    case rules::NoEcho::Unset:
        break;
    }
    return RuleStation::tr("choose ...");
}

QString str(const std::string &text)
{
    return QString::fromStdString(text);
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

bool isInclusive(const rules::Program &program, const std::string &value)
{
    for (const auto &rule : program.everywhere)
        for (const auto &c : rule.when)
            if (c.value == value && c.compare == rules::Compare::Less)
                return false;
    return true;
}

} // namespace

RuleStation::RuleStation(Session &session, const Theme &theme, QWidget *parent)
    : StationView(session, theme, parent)
{
    // Where the page is too low for all of it (a projector's type), the station scrolls.
    auto *page = new QWidget;
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(1));
    m_ruler = new DistanceRuler(theme);
    m_export = new QAction(tr("&Write the board program ..."), this);
    m_export->setShortcut(QKeySequence(Qt::CTRL | Qt::Key_E));
    connect(m_export, &QAction::triggered, this, &RuleStation::exportProgram);
    layout->addWidget(m_ruler);
    layout->addWidget(makeChoices());
    layout->addWidget(makeLower(), 1);
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(page);
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
    connectEdits();
}

QWidget *RuleStation::makeChoices()
{
    auto *holder = new QWidget;
    auto *rows = new QVBoxLayout(holder);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(2);
    QHBoxLayout *row = nullptr;
    const auto newRow = [&] {
        row = new QHBoxLayout;
        row->setSpacing(theme().space(2));
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
                w->setFixedWidth(qRound(px * theme().scale()));
            w->setAccessibleName(name);
            row->addWidget(w);
        }
        row->addSpacing(theme().space(2));
    };
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
    m_wanted = new QuantityField(Dimension::Length, Unit::Centimetre);
    for (auto *f : {m_threshold, m_speed, m_pause, m_air, m_limit, m_wanted})
        f->setHint(tr("choose"));

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
    add(tr("Reads to"), m_limit, 68);
    add(tr("Median of"), m_median, 46);
    row->addStretch(1);
    newRow();
    add(tr("Wanted gap"), m_wanted, 68);
    m_inverse = new QLabel;
    m_inverse->setProperty("quiet", true);
    row->addWidget(m_inverse);
    m_useLeast = new QPushButton;
    m_useLeast->setProperty("link", true);
    m_useLeast->setCursor(Qt::PointingHandCursor);
    row->addWidget(m_useLeast);
    row->addStretch(1);
    return holder;
}

QWidget *RuleStation::makeLower()
{
    auto *holder = new QWidget;
    auto *layout = new QHBoxLayout(holder);
    layout->setContentsMargins(0, theme().space(1), 0, theme().space(2));
    layout->setSpacing(theme().space(4));
    auto *left = new QVBoxLayout;
    left->setSpacing(theme().space(1));
    m_loop = new StateLoop(theme());
    auto *tryRow = new QHBoxLayout;
    auto *tryLabel = new QLabel(tr("&Try a reading"));
    tryLabel->setProperty("heading", true);
    m_try = new QLineEdit;
    m_try->setObjectName("tryReading");
    m_try->setPlaceholderText(tr("29.4 cm, none"));
    m_try->setFixedWidth(qRound(104 * theme().scale()));
    tryLabel->setBuddy(m_try);
    m_tried = new QLabel;
    m_tried->setWordWrap(true);
    m_tried->setObjectName("tried");
    tryRow->addWidget(tryLabel);
    tryRow->addWidget(m_try);
    tryRow->addWidget(m_tried, 1);
    m_grid = new ReadingGrid(theme());
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setMinimumHeight(qRound(56 * theme().scale()));
    scroll->setWidget(m_grid);
    left->addWidget(m_loop);
    left->addLayout(tryRow);
    left->addWidget(scroll, 1);
    layout->addLayout(left, 11);

    auto *sheet = new QWidget;
    sheet->setObjectName("sheet");
    sheet->setAttribute(Qt::WA_StyledBackground);
    auto *sheetLayout = new QVBoxLayout(sheet);
    sheetLayout->setContentsMargins(2, 2, 2, 2);
    m_code = new CodeView(theme());
    sheetLayout->addWidget(m_code);
    layout->addWidget(sheet, 10);
    return holder;
}

void RuleStation::edit(const QString &text, const std::function<void(rules::Program &)> &change,
                       int drag)
{
    const auto *program = session().program();
    if (program == nullptr)
        return;
    if (const auto ok = changeProgram(session().document(), text, program->name, change, drag); !ok)
        emit session().said(str(ok.error().text()), true);
}

void RuleStation::editReading(const QString &text,
                              const std::function<void(rules::Reading &)> &change)
{
    edit(text, [&](rules::Program &p) {
        if (!p.readings.empty())
            change(p.readings.front());
    });
}

void RuleStation::setValue(const char *name, const QString &text, double si, int drag)
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

void RuleStation::connectEdits()
{
    const auto moveThreshold = [this](double si, int drag) {
        if (const auto *program = session().program())
            if (const auto *stop = workshop::stopValue(*program))
                setValue(stop->name.c_str(), tr("Move the threshold"), si, drag);
    };
    connect(m_ruler, &DistanceRuler::thresholdMoved, this, moveThreshold);
    connect(m_threshold, &QuantityField::taken, this,
            [moveThreshold](double si) { moveThreshold(si, Edit::noDrag); });
    connect(m_compare, &Choice::chosen, this, [this](int i) {
        const auto *program = session().program();
        const auto *stop = program ? workshop::stopValue(*program) : nullptr;
        if (stop)
            edit(tr("Change the comparison"),
                 [name = stop->name, i](rules::Program &p) { setCompare(p, name, i == 0); });
    });
    connect(m_noEcho, &QComboBox::activated, this, [this](int i) {
        editReading(tr("Choose what no echo means"), [i](rules::Reading &r) {
            r.noEcho = i == 0 ? rules::NoEcho::Unset : policies[static_cast<size_t>(i - 1)];
        });
    });
    connect(m_speed, &QuantityField::taken, this, [this](double counts) {
        const auto *program = session().program();
        const auto *goes = program ? workshop::goState(*program) : nullptr;
        if (goes)
            setValue(goes->motion.left.speed.c_str(), tr("Set the speed"), counts, Edit::noDrag);
    });
    connect(m_pause, &QuantityField::taken, this, [this](double s) {
        if (const auto *program = session().program())
            setValue(program->passWait.c_str(), tr("Set the pause"), s, Edit::noDrag);
    });
    connect(m_stopBy, &Choice::chosen, this, [this](int i) {
        const auto *program = session().program();
        const auto *stop = program ? workshop::stopState(*program) : nullptr;
        if (stop)
            edit(tr("Choose brake or coast"), [name = stop->name, i](rules::Program &p) {
                for (auto &s : p.states)
                    if (s.name == name)
                        s.motion.wheels = i == 0 ? rules::Wheels::Brake : rules::Wheels::Coast;
            });
    });
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
    connect(m_wanted, &QuantityField::taken, this, [this](double m) {
        const auto ok = changeCar(session().document(), tr("Set the wanted gap"),
                                  session().carName().toStdString(),
                                  [m](kit::Car &car) { car.wantedGap_m = m; });
        if (!ok)
            emit session().said(str(ok.error().text()), true);
    });
    connect(m_useLeast, &QPushButton::clicked, this, [this, moveThreshold] {
        const auto *j = session().current();
        if (j && j->budget && j->budget->leastThreshold_m)
            moveThreshold(std::ceil(*j->budget->leastThreshold_m * 100.0 - 1e-6) / 100.0,
                          Edit::noDrag);
    });
    for (auto *f : {m_threshold, m_speed, m_pause, m_air, m_limit, m_wanted})
        connect(f, &QuantityField::refused, this,
                [this](const QString &reason) { emit session().said(reason, true); });
    connect(m_loop, &StateLoop::picked, this, [this](const QString &state) {
        m_lit = "state:" + state;
        refresh();
    });
    connect(m_grid, &ReadingGrid::pickedReading, this, &RuleStation::tryReading);
    connect(m_try, &QLineEdit::editingFinished, this, [this] {
        const auto text = m_try->text().trimmed();
        const auto *program = session().program();
        if (text.isEmpty() || program == nullptr || program->readings.empty())
            return;
        if (text == tr("none"))
            return tryReading(std::nullopt);
        const auto value = units::parse(text.toStdString(), Dimension::Length);
        if (!value) {
            m_tried->setText(str(value.error().text()));
            return;
        }
        tryReading(units::fromSi(*value, program->readings.front().unit));
    });
}

void RuleStation::tryReading(std::optional<double> number)
{
    m_hasTried = true;
    m_number = number;
    showTried();
    refreshRuler();
}

void RuleStation::showTried()
{
    const auto *program = session().program();
    if (!m_hasTried || program == nullptr || program->readings.empty() ||
        !rules::unset(*program).empty()) {
        m_tried->clear();
        return;
    }
    const auto &r = program->readings.front();
    auto kept = m_number; // as the board keeps it
    if (kept && r.number == rules::NumberType::Whole)
        kept = std::trunc(*kept);
    const bool beyond = m_number && units::toSi(*m_number, r.unit) > *r.limit_m;
    if (beyond)
        kept.reset();
    const auto row = rules::rowAt(*program, r.name, kept);
    m_tried->setText((beyond ? tr("beyond the farthest reading: ") : QString()) +
                     str(rules::explain(*program, r.name, row, kept)));
    if (m_number && !m_try->hasFocus())
        m_try->setText(str(units::plain(*m_number, 2)) + " " + units::info(r.unit).symbol);
    else if (!m_number)
        m_try->setText(tr("none"));
    if (const auto t = rules::table(*program, r.name))
        m_grid->pick(kept ? static_cast<int>(*kept) : static_cast<int>(t->rows.size()));
}

void RuleStation::refreshRuler()
{
    RulerContent c;
    const auto *car = session().car();
    const auto *program = session().program();
    const auto *j = session().current();
    if (car == nullptr || program == nullptr || program->readings.empty()) {
        m_ruler->show({});
        return;
    }
    const auto &r = program->readings.front();
    c.program = *program;
    c.unit = r.unit;
    c.step_m = units::info(r.unit).inSi * (r.unit == Unit::Millimetre ? 10.0 : 1.0);
    c.limit_m = r.limit_m.value_or(1.2);
    if (const auto *stop = workshop::stopValue(*program)) {
        c.threshold_m = stop->si;
        c.inclusive = isInclusive(*program, stop->name);
    }
    if (const auto bands = rules::bands(*program, r.name))
        c.bands = *bands;
    if (const auto ranger = workshop::rangerOf(*car, session().catalogue(), r)) {
        c.deadZone_m = (*ranger)->figure("dead_zone_m")->typical;
        c.halfAngle_rad = (*ranger)->figure("half_angle_rad")->typical;
        c.setBack_m = car->instance(r.instance)->mount->setBack_m;
    }
    c.car = car->geometry;
    if (j)
        c.budget = j->budget;
    if (m_hasTried && m_number)
        c.reading_m = units::toSi(*m_number, r.unit);
    m_ruler->show(std::move(c));
}

void RuleStation::refreshFields()
{
    const auto *program = session().program();
    const auto *car = session().car();
    const bool usable = program && !program->readings.empty();
    for (auto *w : std::initializer_list<QWidget *>{m_compare, m_threshold, m_noEcho, m_speed,
                                                    m_stopBy, m_numbers, m_pause, m_air, m_limit,
                                                    m_median, m_wanted, m_try, m_grid, m_loop})
        w->setEnabled(usable);
    m_export->setEnabled(usable);
    m_inverse->clear();
    m_useLeast->hide();
    if (!usable)
        return;
    const auto &r = program->readings.front();
    const auto *stop = workshop::stopValue(*program);
    const auto *stops = workshop::stopState(*program);
    const auto *goes = workshop::goState(*program);
    m_threshold->setValue(stop ? stop->si : std::nullopt);
    m_compare->setIndex(stop ? (isInclusive(*program, stop->name) ? 0 : 1) : -1);
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
    m_wanted->setValue(car->wantedGap_m);
    const auto *j = session().current();
    if (!j || !j->budget || !j->budget->leastThreshold_m)
        return;
    const auto least = *j->budget->leastThreshold_m;
    auto words =
        tr("needs a threshold of %1 or more").arg(str(units::format(least, Unit::Centimetre, 2)));
    if (j->budget->greatestSpeed_mps && std::isfinite(*j->budget->greatestSpeed_mps))
        words +=
            tr(", or %1 at most")
                .arg(str(units::format(*j->budget->greatestSpeed_mps, Unit::MetrePerSecond, 2)));
    m_inverse->setText(words);
    const double rounded = std::ceil(least * 100.0 - 1e-6) / 100.0;
    m_useLeast->setText(tr("use %1").arg(str(units::formatShort(rounded, Unit::Centimetre, 2))));
    m_useLeast->setVisible(stop && stop->si && std::abs(*stop->si - rounded) > 1e-6);
}

void RuleStation::refreshCode()
{
    const auto *car = session().car();
    const auto *program = session().program();
    if (car == nullptr || program == nullptr)
        return m_code->showReason(tr("There is no car with a program."));
    const auto code =
        rules::boardCode(*program, *car, session().catalogue(), session().workshop().name);
    if (!code)
        return m_code->showReason(str(code.error().text()));
    m_code->show(*code);
    m_code->light(m_lit);
}

void RuleStation::refresh()
{
    const auto *program = session().program();
    m_code->applyTheme();
    refreshFields();
    refreshRuler();
    m_loop->show(program ? *program : rules::Program{},
                 m_lit.startsWith("state:") ? m_lit.mid(6) : QString());
    std::optional<rules::Table> table;
    if (program && !program->readings.empty())
        if (auto t = rules::table(*program, program->readings.front().name))
            table = std::move(*t);
    m_grid->show(program ? *program : rules::Program{}, std::move(table));
    showTried();
    refreshCode();
}

Sum RuleStation::sum() const
{
    const auto *j = session().current();
    if (!j || !j->budget)
        return {};
    const auto &b = *j->budget;
    Sum sum;
    const auto cm = [](double m, int decimals = 2) {
        return str(units::format(m, Unit::Centimetre, decimals));
    };
    sum.result = cm(b.budget.worstGap_m, 1);
    sum.parts.push_back({"= " + str(units::formatShort(b.setup.threshold_m, Unit::Centimetre)),
                         tr("your threshold")});
    sum.derivation.push_back({tr("threshold"),
                              cm(b.setup.threshold_m),
                              {},
                              tr("a choice: the value '%1' of the program").arg(str(b.valueName))});
    for (const auto &t : b.terms) {
        if (t.worst_m != 0.0)
            sum.parts.push_back(
                {QStringLiteral("− ") + str(t.how),
                 t.key == "latency" ? tr("age and loop: %1").arg(cm(t.worst_m, 1)) : str(t.name)});
        sum.derivation.push_back(
            {QStringLiteral("− ") + str(t.name), cm(t.worst_m), str(t.how), str(t.from)});
    }
    sum.derivation.push_back(
        {tr("= gap at worst"),
         cm(b.budget.worstGap_m),
         {},
         tr("as a rule %1: half a loop instead of a whole one").arg(cm(b.budget.typicalGap_m))});
    if (b.edge_m && *b.edge_m > b.setup.threshold_m)
        sum.derivation.push_back(
            {tr("not counted"),
             "+ " + cm(*b.edge_m - b.setup.threshold_m),
             {},
             tr("whole numbers act from just under %1 on: a reserve").arg(cm(*b.edge_m))});
    if (b.leastThreshold_m)
        sum.derivation.push_back(
            {tr("least threshold"), cm(*b.leastThreshold_m), tr("wanted gap + all terms"),
             tr("for a gap of %1 at worst").arg(cm(*session().car()->wantedGap_m))});
    if (b.greatestSpeed_mps && std::isfinite(*b.greatestSpeed_mps))
        sum.derivation.push_back(
            {tr("greatest speed"),
             str(units::format(*b.greatestSpeed_mps, Unit::MetrePerSecond, 3)),
             b.roll.curve.law == kit::RollLaw::Friction ? tr("v·t + s₀·(v/v₀)² = room")
                                                        : tr("v·t + s₀·v/v₀ = room"),
             tr("with this threshold and gap; the roll-out law was measured at %1")
                 .arg(str(units::formatShort(b.roll.curve.speed_mps, Unit::MetrePerSecond)))});
    sum.aside = tr("at worst · as a rule %1").arg(cm(b.budget.typicalGap_m, 1));
    return sum;
}

void RuleStation::reveal(const QString &target)
{
    if (target.startsWith("policy:"))
        m_noEcho->setFocus();
    else if (target.startsWith("reading:"))
        m_limit->setFocus();
    else if (const auto *program = session().program(); program && target.startsWith("value:")) {
        const auto name = target.mid(6).toStdString();
        const auto *goes = workshop::goState(*program);
        if (name == program->passWait)
            m_pause->setFocus();
        else if (goes && name == goes->motion.left.speed)
            m_speed->setFocus();
        else
            m_threshold->setFocus();
        m_lit = target;
        m_code->light(m_lit);
    }
}

void RuleStation::exportProgram()
{
    const auto folder = QFileDialog::getExistingDirectory(this, tr("Folder for the board program"));
    if (!folder.isEmpty())
        exportTo(folder);
}

void RuleStation::exportTo(const QString &folder)
{
    const auto *car = session().car();
    const auto *program = session().program();
    if (car == nullptr || program == nullptr)
        return;
    const auto code =
        rules::boardCode(*program, *car, session().catalogue(), session().workshop().name);
    if (!code)
        return emit session().said(str(code.error().text()), true);
    for (const auto &file : code->files) {
        const auto path = folder + "/" + str(file.name);
        if (const auto saved = io::saveFile(path.toStdString(), file.text); !saved)
            return emit session().said(str(saved.error().text()), true);
    }
    const int version = program->version;
    (void)change(session().document(), tr("Write the board program"),
                 [name = program->name](workshop::Workshop &w) {
                     for (auto &p : w.programs)
                         if (p.name == name)
                             p.writtenVersion = p.version;
                 });
    emit session().said(tr("Version %1 is written to %2. Motor supply open or wheels off the "
                           "ground while it is loaded.")
                            .arg(version)
                            .arg(folder),
                        false);
}

} // namespace badger::app
