// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/program_page.h"

#include "app/widgets/steady.h"
#include "app/widgets/text.h"
#include "core/judge/program_around.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QScrollArea>
#include <QScrollBar>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace badger::app
{

ProgramPage::ProgramPage(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme)
{
    m_worker.setMaxThreadCount(1);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(1));
    m_while = new QLabel;
    m_while->setProperty("quiet", true);
    m_ruler = new DistanceRuler(theme);
    m_cells = new CellsPicture(theme);
    m_wants = new WantsRow(session, theme);
    m_open = new OpenRow(session, theme);
    m_loop = new StateLoop(theme);
    m_page = new SentencePage(theme);
    m_try = new TryRow(theme);
    auto *sheet = new QWidget;
    sheet->setObjectName("sheet");
    sheet->setAttribute(Qt::WA_StyledBackground);
    auto *sheetLayout = new QVBoxLayout(sheet);
    sheetLayout->setContentsMargins(2, 2, 2, 2);
    sheetLayout->addWidget(m_page);
    sheetLayout->addStretch(1);
    m_scroll = new QScrollArea;
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_scroll->setMinimumHeight(qRound(120 * theme.scale()));
    m_scroll->setWidget(sheet);
    layout->addWidget(m_while);
    layout->addWidget(m_ruler);
    layout->addWidget(m_cells);
    layout->addWidget(new Steady(m_wants));
    layout->addWidget(m_open);
    auto *texts = new QHBoxLayout;
    texts->setSpacing(theme.space(3));
    texts->addWidget(m_scroll, 13);
    texts->addWidget(makeAside(), 8);
    layout->addLayout(texts, 1);
    layout->addWidget(m_try);
    connect(m_loop, &StateLoop::picked, this, [this](const QString &s) { pick("state:" + s); });
    connect(m_page, &SentencePage::picked, this, &ProgramPage::pick);
    connect(m_page, &SentencePage::typed, this, &ProgramPage::takeTyped);
    connect(m_page, &SentencePage::chosen, this, &ProgramPage::takeChoice);
    connect(m_page, &SentencePage::mendTaken, this, &ProgramPage::takeMend);
    connect(m_page, &SentencePage::rewritten, this, &ProgramPage::takeRewrite);
    connect(m_page, &SentencePage::readingWanted, this, &ProgramPage::offerReadings);
    connect(m_ruler, &DistanceRuler::thresholdMoved, this,
            [this](double to_m, int drag) { moveValue(m_threshold, to_m, drag); });
    connect(m_cells, &CellsPicture::valueMoved, this, &ProgramPage::moveValue);
    connect(m_cells, &CellsPicture::obstacleAt, this,
            [this](const QString &reading, double number, bool moved) {
                m_try->put(reading, str(units::plain(number, 3)), !moved);
            });
    connect(m_try, &TryRow::picked, this, [this](const QString &s) { pick("state:" + s); });
    connect(m_try, &TryRow::changed, this, [this] {
        if (m_ruler->isVisible())
            refreshRuler();
    });
}

/// The loop, and below it one of three: the board program, every reading, another way.
QWidget *ProgramPage::makeAside()
{
    auto *aside = new QWidget;
    auto *layout = new QVBoxLayout(aside);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(m_theme.space(1));
    m_loop->setRing(true);
    m_code = new CodeSheet(m_session, m_theme);
    m_rows = new RowsSheet(m_theme);
    m_compare = new CompareSheet(m_session, m_theme);
    m_aside = new Choice({tr("Board program"), tr("Every reading"), tr("Compare")});
    m_aside->setObjectName("aside");
    m_aside->setIndex(0);
    m_grid = new ReadingGrid(m_theme);
    auto *every = new QWidget;
    auto *everyLayout = new QVBoxLayout(every);
    everyLayout->setContentsMargins(0, 0, 0, 0);
    everyLayout->addWidget(m_grid);
    everyLayout->addWidget(m_rows);
    everyLayout->addStretch(1);
    auto *rows = new QScrollArea;
    rows->setWidgetResizable(true);
    rows->setFrameShape(QFrame::NoFrame);
    rows->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    rows->setFocusPolicy(Qt::NoFocus);
    rows->setWidget(every);
    m_sheets = new QStackedWidget;
    m_sheets->setMinimumHeight(qRound(64 * m_theme.scale()));
    for (auto *sheet : std::initializer_list<QWidget *>{m_code, rows, m_compare})
        m_sheets->addWidget(sheet);
    layout->addWidget(m_loop);
    layout->addWidget(m_aside);
    layout->addWidget(m_sheets, 1);
    connect(m_aside, &Choice::chosen, this, [this](int i) {
        m_sheets->setCurrentIndex(i);
        m_loop->setVisible(i == 0); // the others need its room
        refreshAside();
    });
    connect(m_rows, &RowsSheet::pickedReadings, m_try, &TryRow::add);
    connect(m_grid, &ReadingGrid::pickedReading, this, [this](std::optional<double> number) {
        m_try->add(number ? str(units::plain(*number, 3)) : tr("none"));
    });
    connect(m_compare, &CompareSheet::chosen, this, &ProgramPage::takeChoice);
    return aside;
}

/// What is not seen is not reckoned.
void ProgramPage::refreshAside()
{
    const auto *program = m_session.program();
    const auto *car = m_session.car();
    if (program == nullptr || car == nullptr)
        return;
    if (m_sheets->currentIndex() == 1)
        refreshTable(judge::carFacts({*car, m_session.catalogue()}, *program,
                                     judge::recordsOf(m_session.workshop(), *car)));
    else if (m_sheets->currentIndex() == 2)
        m_compare->refresh();
}

/// The state that is picked; the first that decides something where none is.
int ProgramPage::shownMode() const
{
    const auto &program = *m_session.program();
    for (size_t i = 0; i < program.states.size(); ++i)
        if (str(program.states[i].name) == m_state)
            return static_cast<int>(i);
    for (size_t i = 0; i < program.states.size(); ++i)
        if (!program.states[i].wait && rules::actOf(program.states[i].motion) == rules::Act::Go)
            return static_cast<int>(i);
    return 0;
}

void ProgramPage::refresh()
{
    const auto *program = m_session.program();
    const auto *car = m_session.car();
    const auto *j = m_session.current();
    if (program == nullptr || car == nullptr || program->states.empty())
        return;
    if (m_shown != program->id) {
        m_shown = program->id;
        m_state.clear();
        m_scroll->verticalScrollBar()->setValue(0);
    }
    const auto facts = judge::carFacts({*car, m_session.catalogue()}, *program,
                                       judge::recordsOf(m_session.workshop(), *car));
    const int mode = shownMode();
    const auto state = str(program->states[static_cast<size_t>(mode)].name);
    m_while->setText(tr("What it does at each reading while it is in '%1'").arg(state));
    Ground ground{j && j->budget ? &*j->budget : nullptr, {}};
    for (const auto &[reading, ranger] :
         judge::rangerFacts({*car, m_session.catalogue()}, *program))
        ground.deadZones_m[reading] = ranger.deadZone_m;
    const bool simple = halts(*program);
    m_ruler->setVisible(simple);
    m_cells->setVisible(!simple);
    if (simple)
        refreshRuler();
    else
        m_cells->show(*program, facts, mode, ground);
    m_while->setVisible(!simple && !m_cells->isTitled());
    m_wants->refresh();
    m_open->refresh();
    m_loop->show(*program, state);
    m_page->show(*program, j ? j->rule.findings : std::vector<Finding>(), "state:" + state);
    m_try->show(*program, facts);
    refreshCode(state);
    refreshAside();
    lookForMends();
}

ProgramPage::~ProgramPage()
{
    if (m_overtaken)
        *m_overtaken = true;
    m_worker.waitForDone();
}

/// Each way out is tried on copies, off the interface thread; the latest program wins.
void ProgramPage::lookForMends()
{
    const auto &program = *m_session.program();
    const auto *j = m_session.current();
    if (j == nullptr)
        return;
    if (m_mended == program && m_mendedOf == j->rule.findings)
        return m_page->offer(m_mends);
    m_mended = program;
    m_mendedOf = j->rule.findings; // ways are kept by the places of these
    m_mends.clear();
    if (m_overtaken)
        *m_overtaken = true;
    if (std::all_of(j->rule.findings.begin(), j->rule.findings.end(),
                    [](const Finding &f) { return f.severity == Severity::Advice; }))
        return m_page->offer({});
    m_overtaken = std::make_shared<std::atomic<bool>>(false);
    m_worker.start(
        [this, program, overtaken = m_overtaken, findings = j->rule.findings,
         around = judge::around({*m_session.car(), m_session.catalogue()}, program,
                                judge::recordsOf(m_session.workshop(), *m_session.car()))] {
            std::map<int, std::vector<regions::Mend>> mends;
            const auto stopped = [&] { return overtaken->load(); };
            for (size_t i = 0; i < findings.size() && !stopped(); ++i)
                if (findings[i].severity != Severity::Advice)
                    if (auto ways = regions::mends(program, around, findings[i], 2, stopped);
                        !ways.empty())
                        mends[static_cast<int>(i)] = std::move(ways);
            if (stopped())
                return;
            QMetaObject::invokeMethod(
                this,
                [this, overtaken, mends = std::move(mends)]() mutable {
                    if (overtaken != m_overtaken || *overtaken)
                        return;
                    m_mends = std::move(mends);
                    m_page->offer(m_mends);
                },
                Qt::QueuedConnection);
        });
}

void ProgramPage::takeMend(int finding, int way)
{
    const auto it = m_mends.find(finding);
    if (it == m_mends.end() || way >= static_cast<int>(it->second.size()))
        return;
    const auto mend = it->second[static_cast<size_t>(way)];
    m_session.editProgram(str(mend.words), [&](rules::Program &p) {
        const auto version = p.version; // a step of its own, as every edit
        const auto written = p.writtenVersion;
        p = mend.program;
        p.version = version;
        p.writtenVersion = written;
    });
}

void ProgramPage::refreshCode(const QString &state)
{
    m_code->refresh(); // where it cannot be written, why
    m_code->light("state:" + state);
}

void ProgramPage::moveValue(const QString &value, double to, int drag)
{
    m_session.editProgram(
        tr("Move '%1'").arg(value),
        [&](rules::Program &p) {
            for (auto &v : p.values)
                if (v.name == value.toStdString()) {
                    v.si = to;
                    v.suggested = false;
                }
        },
        drag);
}

void ProgramPage::pick(const QString &target)
{
    if (target.startsWith("state:")) {
        m_state = target.mid(6);
        refresh();
    } else if (target.startsWith("rule:")) {
        const auto state = target.mid(5).section('/', 0, 0);
        if (!state.isEmpty()) {
            m_state = state;
            refresh();
        }
    }
    reveal(target);
}

void ProgramPage::reveal(const QString &target)
{
    if (target.startsWith("value:") || target.startsWith("policy:"))
        m_page->goTo(target);
    if (target.startsWith("state:") && target.mid(6) != m_state) {
        m_state = target.mid(6);
        refresh();
    }
    const auto place =
        m_page->areaOf(target.startsWith("reading:") || target.startsWith("policy:") ||
                               target.startsWith("value:") || target.startsWith("state:")
                           ? target
                           : QString());
    if (place.isValid() && target.startsWith("state:")) // with what it does below it
        m_scroll->verticalScrollBar()->setValue(place.top() - qRound(6 * m_theme.scale()));
    else if (place.isValid())
        m_scroll->ensureVisible(place.center().x(), place.center().y(), 20,
                                qRound(60 * m_theme.scale()));
}

void ProgramPage::takeTyped(const QString &target, const QString &text)
{
    Result<void> taken;
    m_session.editProgram(tr("Change '%1'").arg(target.section(':', 1)), [&](rules::Program &p) {
        auto changed = p;
        taken = sentences::typeOver(changed, target.toStdString(), text.toStdString());
        if (taken)
            p = std::move(changed);
    });
    if (!taken)
        return emit m_session.said(str(taken.error().text()), true);
    if (target.startsWith("name:") && target.mid(5) == m_state) { // the picked one keeps its mark
        m_state = text;
        refresh();
    }
}

void ProgramPage::takeChoice(const QString &target, int option)
{
    m_session.editProgram(tr("Change a word of the program"), [&](rules::Program &p) {
        sentences::choose(p, target.toStdString(), static_cast<std::size_t>(option));
    });
}

void ProgramPage::takeRewrite(int sentence, int what)
{
    const auto program = *m_session.program();
    const auto all = sentences::sentences(program);
    const auto &at = all[static_cast<size_t>(sentence)];
    const auto change = static_cast<sentences::Rewrite>(what);
    Result<std::string> target = std::string();
    m_session.editProgram(str(sentences::words(change, program, at)),
                          [&](rules::Program &p) { target = sentences::rewrite(p, at, change); });
    if (!target)
        return emit m_session.said(str(target.error().text()), true);
    m_page->goTo(str(*target));
}

void ProgramPage::offerReadings(const QPoint &below)
{
    auto *menu = new QMenu(this);
    menu->setObjectName("readingMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const auto &sensor : judge::readable({*m_session.car(), m_session.catalogue()}))
        connect(menu->addAction(str(sensor.instance)), &QAction::triggered, this, [this, sensor] {
            std::string target;
            m_session.editProgram(
                tr("Read '%1'").arg(str(sensor.instance)),
                [&](rules::Program &p) { target = sentences::addReading(p, sensor); });
            m_page->goTo("policy" + str(target).mid(7));
        });
    if (menu->isEmpty())
        menu->addAction(tr("This car has no sensor."))->setEnabled(false);
    menu->popup(below);
}

} // namespace badger::app
