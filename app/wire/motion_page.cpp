// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/motion_page.h"

#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"
#include "app/wire/wire_edits.h"
#include "core/nets/drive_map.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>

namespace badger::app
{

using motion::Turn;

MotionPage::MotionPage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session), m_theme(theme)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme.space(4));
    m_view = new MotionView(theme);
    m_view->setObjectName("motion");
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(m_view);
    row->addWidget(scroll, 1);
    row->addWidget(makeBenchTest());
    connect(m_view, &MotionView::rowPicked, this, &MotionPage::sumChanged);
}

QWidget *MotionPage::makeBenchTest()
{
    auto *holder = new QWidget;
    holder->setFixedWidth(qRound(250 * m_theme.scale()));
    auto *column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(m_theme.space(2));
    auto *heading = new QLabel(tr("After a bench test"));
    heading->setProperty("heading", true);
    column->addWidget(heading);
    auto *ask = new QLabel(tr("On blocks, both wheels were told to go forward. What did they do?"));
    ask->setProperty("small", true);
    ask->setWordWrap(true);
    column->addWidget(ask);
    const auto answer = [&](const QString &label, const char *name) {
        auto *box = new QComboBox;
        box->setObjectName(name);
        box->addItem(tr("went forward"), int(Turn::Forward));
        box->addItem(tr("went backward"), int(Turn::Backward));
        box->addItem(tr("did not turn"), int(Turn::Dead));
        connect(box, &QComboBox::activated, this, &MotionPage::showRemedies);
        auto *line = new QHBoxLayout;
        auto *text = new QLabel(label);
        text->setBuddy(box);
        line->addWidget(text);
        line->addWidget(box, 1);
        column->addLayout(line);
        return box;
    };
    m_left = answer(tr("&left"), "testLeft");
    m_right = answer(tr("&right"), "testRight");
    m_crossed = new QCheckBox(tr("the &other wheel answered"));
    m_crossed->setObjectName("testCrossed");
    connect(m_crossed, &QCheckBox::clicked, this, &MotionPage::showRemedies);
    column->addWidget(m_crossed);
    m_remedies = new QVBoxLayout;
    m_remedies->setSpacing(m_theme.space(1));
    column->addLayout(m_remedies);
    column->addStretch(1);
    return holder;
}

motion::BenchTest MotionPage::answered() const
{
    return {Turn(m_left->currentData().toInt()), Turn(m_right->currentData().toInt()),
            m_crossed->isChecked()};
}

void MotionPage::showRemedies()
{
    emptyLayout(*m_remedies);
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    const auto all = motion::remedies({*car, m_session.catalogue()}, answered());
    const auto say = [this](const QString &text, const char *property) {
        auto *label = new QLabel(text);
        label->setWordWrap(true);
        label->setProperty(property, true);
        m_remedies->addWidget(label);
    };
    if (all.empty())
        say(tr("As the wires say: nothing to change."), "small");
    int number = 0;
    for (const auto &r : all) {
        m_remedies->addSpacing(m_theme.space(2));
        say((r.best && all.size() > 1 ? tr("Best: %1.") : tr("%1.")).arg(str(r.what)), "heading");
        say(str(r.why), "small");
        if (r.wires)
            say(tr("Power off and cells out first."), "caution");
        if (!r.apply)
            continue;
        auto *take = new QPushButton(r.wires ? tr("Done with the hand") : tr("Apply"));
        take->setObjectName("remedy" + QString::number(number++));
        connect(take, &QPushButton::clicked, this, [this, r] {
            editWiring(m_session, str(r.what), [&](kit::Car &edited) {
                r.apply(edited);
                if (!r.wires) // the program follows the drawing
                    edited = nets::withPinsFromWires(std::move(edited), m_session.catalogue());
            });
            for (auto *box : {m_left, m_right})
                box->setCurrentIndex(0);
            m_crossed->setChecked(false);
            showRemedies();
            emit m_session.said(r.wires ? tr("Test both wheels again on blocks.")
                                        : tr("Load the program again and test both wheels."),
                                false);
        });
        m_remedies->addWidget(take);
    }
}

void MotionPage::refresh()
{
    const auto *car = m_session.car();
    setEnabled(car != nullptr);
    auto table = car ? motion::motion({*car, m_session.catalogue()}) : motion::MotionTable{};
    const auto *program = m_session.program();
    auto actions = car && program ? judge::actionsOn({*car, m_session.catalogue()}, *program, table)
                                  : std::vector<judge::ProgramAction>{};
    m_view->show(std::move(table), std::move(actions));
    if (const auto &id = m_session.carId(); id != m_car) {
        m_car = id; // the answers belong to the car that was on blocks
        for (auto *box : {m_left, m_right})
            box->setCurrentIndex(0);
        m_crossed->setChecked(false);
    }
    showRemedies();
}

std::optional<Sum> MotionPage::sum() const
{
    Sum sum;
    const auto &t = m_view->table();
    const int row = m_view->picked();
    if (row < 0) {
        sum.result = t.rows.size() == 1 ? tr("1 pattern") : tr("%1 patterns").arg(t.rows.size());
        for (const auto &n : t.notes)
            sum.parts.push_back({str(n), tr("from the wires")});
        if (t.rows.empty() && t.notes.empty())
            sum.parts.push_back({tr("nothing drives an input yet"), {}});
    } else {
        const auto &r = t.rows[size_t(row)];
        sum.result = tr(motion::words(r.path));
        for (const auto &o : r.outputs)
            sum.parts.push_back({str(o), tr("outputs")});
        sum.aside =
            tr("left %1, right %2").arg(tr(motion::name(r.left)), tr(motion::name(r.right)));
    }
    for (const auto &in : t.inputs) {
        QStringList drives;
        for (const auto &d : in.drives)
            drives << str(d);
        sum.derivation.push_back({str(in.name), tr("drives %1").arg(drives.join(", ")), {}, {}});
    }
    return sum;
}

} // namespace badger::app
