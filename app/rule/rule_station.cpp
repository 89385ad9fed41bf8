// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/rule_station.h"

#include "app/document/edits.h"
#include "app/widgets/text.h"
#include "core/judge/sums.h"

#include <QAction>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <algorithm>
#include <cmath>

namespace badger::app
{

using units::Dimension;
using units::Unit;

RuleStation::RuleStation(Session &session, const Theme &theme, QWidget *parent)
    : StationView(session, theme, parent)
{
    // Where the page is too low for all of it (a projector's type), the station scrolls.
    auto *page = new QWidget;
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(1));
    m_ruler = new DistanceRuler(theme);
    m_choices = new RuleChoices(session, theme);
    m_export = new QAction(tr("&Write the board program ..."), this);
    m_export->setShortcut(QKeySequence(Qt::CTRL | Qt::Key_E));
    connect(m_export, &QAction::triggered, this, &RuleStation::exportProgram);
    layout->addWidget(m_ruler);
    layout->addWidget(m_choices);
    layout->addWidget(makeLower(), 1);
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(page);
    m_start = new RuleStart(session, theme);
    m_pages = new QStackedWidget;
    m_pages->addWidget(scroll);
    m_pages->addWidget(m_start);
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(m_pages);
    connectViews();
}

/// Made with the first program that needs it.
ProgramPage &RuleStation::programPage()
{
    if (m_program == nullptr) {
        m_program = new ProgramPage(session(), theme());
        auto *scroll = new QScrollArea;
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        scroll->setWidget(m_program);
        m_pages->addWidget(scroll);
    }
    return *m_program;
}

bool RuleStation::halts(const rules::Program &program)
{
    return rules::forRangersAlone(program) && program.states.size() <= 2 &&
           std::all_of(program.states.begin(), program.states.end(), [](const rules::State &s) {
               const auto act = rules::actOf(s.motion);
               return act == rules::Act::Go || act == rules::Act::Stand;
           });
}

const rules::Reading *RuleStation::reading() const
{
    const auto *program = session().program();
    if (program == nullptr || program->readings.empty())
        return nullptr;
    const auto *stopping = session().stopRule().reading;
    return stopping ? stopping : &program->readings.front();
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
    m_try->setPlaceholderText(tr("29.4 cm"));
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
    scroll->setMinimumHeight(qRound(40 * theme().scale()));
    scroll->setWidget(m_grid);
    left->addWidget(m_loop);
    left->addLayout(tryRow);
    left->addWidget(scroll, 1);
    layout->addLayout(left, 11);

    m_code = new CodeSheet(session(), theme());
    layout->addWidget(m_code, 10);
    return holder;
}

void RuleStation::connectViews()
{
    connect(m_ruler, &DistanceRuler::thresholdMoved, m_choices, &RuleChoices::moveThreshold);
    connect(m_loop, &StateLoop::picked, this, [this](const QString &state) {
        m_lit = "state:" + state;
        refresh();
    });
    connect(m_grid, &ReadingGrid::pickedReading, this, &RuleStation::tryReading);
    connect(m_try, &QLineEdit::editingFinished, this, [this] {
        const auto text = m_try->text().trimmed();
        const auto *shown = reading();
        if (text.isEmpty() || shown == nullptr)
            return;
        if (text == tr("none"))
            return tryReading(std::nullopt);
        const auto value = units::parse(text.toStdString(), Dimension::Length);
        if (!value) {
            m_tried->setText(str(value.error().text()));
            return;
        }
        tryReading(units::fromSi(*value, shown->unit));
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
    const auto *shown = reading();
    if (!m_hasTried || shown == nullptr || !rules::unset(*program).empty()) {
        m_tried->clear();
        return;
    }
    const auto &r = *shown;
    auto kept = m_number; // as the board keeps it
    if (kept && r.number == rules::NumberType::Whole)
        kept = std::trunc(*kept);
    const bool beyond = m_number && units::toSi(*m_number, r.unit) > *r.limit_m;
    if (beyond)
        kept.reset();
    const auto row = rules::rowAt(*program, r.name, kept);
    m_tried->setText((beyond ? tr("beyond the farthest reading: ") : QString()) +
                     str(rules::explainRow(*program, r.name, row, kept)));
    if (m_number && !m_try->hasFocus())
        m_try->setText(str(units::plain(*m_number, 2)) + " " + units::info(r.unit).symbol);
    else if (!m_number)
        m_try->setText(tr("none"));
    if (const auto t = rules::table(*program, r.name))
        m_grid->pick(kept ? static_cast<int>(*kept) : static_cast<int>(t->last()) + 1);
}

void RuleStation::refreshRuler()
{
    RulerContent c;
    const auto *car = session().car();
    const auto *program = session().program();
    const auto *j = session().current();
    const auto *shown = reading();
    if (car == nullptr || shown == nullptr) {
        m_ruler->show({});
        return;
    }
    const auto &r = *shown;
    c.program = *program;
    c.unit = units::shownIn(r.unit, listener().display);
    c.step_m = units::info(r.unit).inSi * (r.unit == Unit::Millimetre ? 10.0 : 1.0);
    c.limit_m = r.limit_m.value_or(1.2);
    if (const auto stop = session().stopRule(); stop.value) {
        c.threshold_m = stop.value->si;
        c.inclusive = stop.inclusive;
    }
    if (const auto bands = rules::bands(*program, r.name))
        c.bands = *bands;
    if (const auto ranger = judge::rangerOf({*car, session().catalogue()}, r)) {
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

void RuleStation::refreshCode()
{
    m_code->refresh();
    m_code->light(m_lit);
}

void RuleStation::refresh()
{
    const auto *program = session().program();
    const auto *shown = reading();
    if (m_shownCar != session().carId()) { // what was tried belongs to the car before
        m_shownCar = session().carId();
        m_hasTried = false;
        m_number.reset();
        m_try->clear();
        m_grid->pick(-1);
    }
    const bool simple = program && halts(*program);
    if (program && !simple)
        programPage();
    m_pages->setCurrentIndex(program == nullptr ? 1 : simple ? 0 : 2);
    m_export->setEnabled(program != nullptr);
    if (program == nullptr)
        return m_start->refresh();
    if (!simple)
        return m_program->refresh();
    const bool usable = shown != nullptr;
    for (auto *w : std::initializer_list<QWidget *>{m_try, m_grid, m_loop})
        w->setEnabled(usable);
    m_choices->refresh();
    refreshRuler();
    m_loop->show(*program, m_lit.startsWith("state:") ? m_lit.mid(6) : QString());
    std::optional<rules::Table> table;
    if (shown)
        if (auto t = rules::table(*program, shown->name))
            table = std::move(*t);
    m_grid->show(*program, std::move(table));
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
        return str(units::fixed(m, Unit::Centimetre, decimals));
    };
    sum.result = cm(b.budget.worstGap_m, 1);
    sum.parts.push_back({"= " + str(units::quantity(b.setup.threshold_m, Unit::Centimetre, 2)),
                         tr("your threshold")});
    for (const auto &t : b.terms)
        if (t.worst_m != 0.0)
            sum.parts.push_back(
                {QStringLiteral("− ") + str(t.how),
                 t.key == "latency" ? tr("age and loop: %1").arg(cm(t.worst_m, 1)) : str(t.name)});
    sum.unfold(judge::whyGap(b, session().car()->wantedGap_m));
    sum.aside = tr("at worst · typically %1").arg(cm(b.budget.typicalGap_m, 1));
    return sum;
}

void RuleStation::reveal(const QString &target)
{
    if (m_pages->currentIndex() == 2)
        return m_program->reveal(target);
    m_choices->focusOn(target);
    if (target.startsWith("value:")) {
        m_lit = target;
        m_code->light(m_lit);
    }
}

/// The one that is seen: its style is what is written.
const CodeSheet &RuleStation::sheet() const
{
    return m_pages->currentIndex() == 2 ? m_program->codeSheet() : *m_code;
}

void RuleStation::exportProgram()
{
    const auto errors = sheet().errors();
    if (!errors.empty() && !isWanted(errors))
        return;
    const auto folder = QFileDialog::getExistingDirectory(this, tr("Folder for the board program"));
    if (!folder.isEmpty())
        exportTo(folder);
}

/// A program that the check finds an error in is only written when somebody says so.
bool RuleStation::isWanted(const std::vector<Say> &errors)
{
    QStringList all;
    for (const auto &error : errors)
        all << str(error);
    QMessageBox box(QMessageBox::Warning, tr("Board program"),
                    tr("The check finds what stands against this program:"), QMessageBox::Cancel,
                    this);
    box.setTextFormat(Qt::PlainText);
    box.setInformativeText(all.join("\n\n"));
    auto *write = box.addButton(tr("Write it all the same"), QMessageBox::AcceptRole);
    box.setDefaultButton(QMessageBox::Cancel);
    box.exec();
    return box.clickedButton() == static_cast<QAbstractButton *>(write);
}

void RuleStation::exportTo(const QString &folder)
{
    const auto *car = session().car();
    const auto *program = session().program();
    if (car == nullptr || program == nullptr)
        return;
    const auto code = sheet().code();
    if (!code)
        return emit session().said(str(code.error().text()), true);
    for (const auto &file : code->files) {
        const auto path = folder + "/" + str(file.name);
        if (const auto saved = io::saveFile(path.toStdString(), file.text); !saved)
            return emit session().said(str(saved.error().text()), true);
    }
    const int version = program->version;
    session().editProgram(tr("Write the board program"),
                          [](rules::Program &p) { p.writtenVersion = p.version; });
    emit session().said(tr("Version %1 is written to %2. Motor supply open or wheels off the "
                           "ground while it is loaded.")
                            .arg(version)
                            .arg(folder),
                        false);
}

} // namespace badger::app
