// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/rule_start.h"

#include "app/document/edits.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/marks.h"
#include "app/widgets/picture_button.h"
#include "app/widgets/text.h"
#include "core/rules/table.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>

namespace badger::app
{

namespace
{

/// The bands of a program's first reading; hatched where nothing is chosen yet.
void paintBands(QPainter &p, const QRectF &box, const rules::Program &program, const Theme &theme)
{
    const QRectF strip(box.left(), box.center().y() - box.height() / 5, box.width(),
                       box.height() / 2.5);
    p.setFont(theme.text(Type::Small));
    const auto bands = program.readings.empty()
                           ? Result<std::vector<rules::Band>>()
                           : rules::bands(program, program.readings.front().name);
    if (!bands || bands->empty()) {
        hatch(p, strip, theme.color(Tone::Ink2), 7);
        p.setPen(QPen(theme.color(Tone::Ink), theme.line()));
        p.setBrush(Qt::NoBrush);
        p.drawRect(strip);
        p.setPen(QPen(theme.color(Tone::Ochre), 2));
        p.drawLine(QPointF(strip.left() + strip.width() * 0.35, strip.top() - 8),
                   QPointF(strip.left() + strip.width() * 0.35, strip.bottom() + 8));
        return;
    }
    const double end_m = bands->back().to_m;
    for (const auto &band : *bands) {
        const auto *state = program.state(band.row.to());
        const QRectF part(strip.left() + strip.width() * band.from_m / end_m, strip.top(),
                          strip.width() * (band.to_m - band.from_m) / end_m, strip.height());
        if (state == nullptr) {
            hatch(p, part, theme.color(Tone::Ink2), 7);
            continue;
        }
        const auto act = rules::actOf(state->motion);
        p.fillRect(part, theme.color(act));
        p.setPen(theme.color(Tone::Ink));
        const QString word = rules::word(act);
        if (p.fontMetrics().horizontalAdvance(word) + 6 < part.width())
            p.drawText(part, Qt::AlignCenter, word);
    }
    p.setPen(QPen(theme.color(Tone::Ink), theme.line()));
    p.setBrush(Qt::NoBrush);
    p.drawRect(strip);
}

} // namespace

RuleStart::RuleStart(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, theme.space(2), 0, 0);
    layout->setSpacing(theme.space(3));
    m_words = new QLabel;
    m_words->setWordWrap(true);
    m_words->setProperty("quiet", true);
    layout->addWidget(m_words);
    m_grid = new QGridLayout;
    m_grid->setSpacing(theme.space(2));
    layout->addLayout(m_grid);
    layout->addStretch(1);
}

void RuleStart::take(const rules::Program &program, bool isNew)
{
    const auto car = m_session.carName().toStdString();
    const auto id = isNew ? newId<rules::Program>(m_session.document().ids()) : program.id;
    m_session.edit(isNew ? tr("New program") : tr("Choose a program"), [&](workshop::Workshop &w) {
        if (isNew)
            w.programs.push_back(
                rules::haltProgram(id, workshop::freeProgramName(w, "halt " + car)));
        for (auto &c : w.cars)
            if (c.id == m_session.carId())
                c.program = id;
    });
}

void RuleStart::addProgram(const rules::Program &program, const QString &title, const QString &line,
                           bool isNew)
{
    constexpr int columns = 3;
    auto *button = new PictureButton(
        title, line,
        [this, program](QPainter &p, const QRectF &box) { paintBands(p, box, program, m_theme); },
        m_theme);
    button->setObjectName("start:" + title);
    connect(button, &PictureButton::clicked, this,
            [this, program, isNew] { take(program, isNew); });
    m_grid->addWidget(button, m_count / columns, m_count % columns);
    ++m_count;
}

void RuleStart::refresh()
{
    emptyLayout(*m_grid);
    m_count = 0;
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    m_words->setText(tr("A program says what the car does at every reading. Begin with a new one, "
                        "or let %1 run one that is here already; a change to it then changes it "
                        "for every car that runs it.")
                         .arg(str(car->name)));
    addProgram(rules::haltProgram({}, "new"), tr("Halt, new"),
               tr("drive, and stand inside a distance; nothing is chosen yet"), true);
    constexpr size_t most = 8; // a page without scrolling
    const auto &programs = m_session.workshop().programs;
    for (size_t i = 0; i < programs.size() && i < most; ++i) {
        QStringList cars;
        for (const auto &c : m_session.workshop().cars)
            if (c.program == programs[i].id)
                cars << str(c.name);
        addProgram(programs[i], str(programs[i].name),
                   cars.isEmpty() ? tr("no car runs it") : tr("as on %1").arg(cars.join(", ")),
                   false);
    }
}

} // namespace badger::app
