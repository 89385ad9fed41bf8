// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/proposal_bar.h"

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "app/wire/wire_edits.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>

namespace badger::app
{

namespace
{

QString wireWords(const kit::Wire &w)
{
    return QObject::tr("%1 to %2").arg(str(w.from), str(w.to));
}

/// "5 of supply, 3 of ground, 8 of signals"
QString countWords(const wireup::Proposal &p)
{
    using Kind = wireup::Conductor::Kind;
    QStringList words;
    const auto add = [&](Kind kind, const QString &text) {
        const auto n = std::count_if(p.wires.begin(), p.wires.end(),
                                     [&](const auto &w) { return w.kind == kind; });
        if (n > 0)
            words << text.arg(n);
    };
    add(Kind::Supply, QObject::tr("%1 of supply"));
    add(Kind::Ground, QObject::tr("%1 of ground"));
    add(Kind::Motor, QObject::tr("%1 of motors"));
    add(Kind::Signal, QObject::tr("%1 of signals"));
    return words.join(", ");
}

QString headline(const wireup::Proposal &p)
{
    if (p.impossible) {
        const auto why = str(p.impossible->why);
        return why.endsWith('.') ? QObject::tr("No harness: %1").arg(why)
                                 : QObject::tr("No harness: %1.").arg(why);
    }
    const auto n = static_cast<int>(p.wires.size());
    if (n == 0)
        return QObject::tr("No wire can be added before these are mended.");
    return n == 1 ? QObject::tr("Kit and program ask for one wire more: %1.")
                        .arg(wireWords(p.wires.front().wire))
                  : QObject::tr("Kit and program ask for %1 wires more: %2.")
                        .arg(n)
                        .arg(countWords(p));
}

QStringList smallWords(const wireup::Proposal &p, const parts::Catalogue &catalogue)
{
    QStringList words;
    const auto wrong = [&] {
        for (const auto &w : p.wrong)
            words << QObject::tr("Left as it is, and wrong: %1. %2")
                         .arg(wireWords(w.wire), str(w.what));
    };
    if (p.impossible) {
        wrong();
        for (const auto &way : p.impossible->frees)
            words << QObject::tr("What would free it: %1; %2.").arg(str(way.what), str(way.cost));
        return words;
    }
    for (const auto &b : p.parts) {
        const auto *part = catalogue.find(b.partId);
        words << QObject::tr("It brings %1 as %2: %3.")
                     .arg(part ? str(part->name) : str(b.partId), str(b.id), str(b.why));
    }
    QStringList jumpers;
    for (const auto &j : p.jumpers)
        jumpers << str(j);
    if (!jumpers.isEmpty())
        words << QObject::tr("Jumpers on %1.").arg(jumpers.join(", "));
    QStringList noted;
    for (const auto &n : p.noted)
        noted << str(n);
    if (!noted.isEmpty())
        words << QObject::tr("Taken as said: %1.").arg(noted.join("; "));
    wrong();
    if (!p.waiting.empty())
        words << QObject::tr("%1 more after that mend.").arg(p.waiting.size());
    const auto isSaid = [&](const Finding &f) { // a wrong wire ends there
        return std::any_of(p.wrong.begin(), p.wrong.end(), [&](const wireup::WrongWire &w) {
            return !f.places.empty() && (f.places.front() == at::terminal(w.wire.from) ||
                                         f.places.front() == at::terminal(w.wire.to));
        });
    };
    for (const auto &f : p.left)
        if (!isSaid(f))
            words << QObject::tr("Mind: %1").arg(str(f.what));
    return words;
}

} // namespace

ProposalBar::ProposalBar(Session &session, const Theme &theme, QWidget *parent)
    : QFrame(parent), m_session(session), m_words(new QLabel), m_small(new QLabel),
      m_why(new QLabel), m_modules(new QComboBox)
{
    setObjectName("nextCard");
    setAttribute(Qt::WA_StyledBackground);
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(theme.space(3), theme.space(1), theme.space(2), theme.space(1));
    column->setSpacing(theme.space(1));
    m_words->setObjectName("proposalWords");
    m_small->setObjectName("proposalSmall");
    m_small->setProperty("small", true);
    m_why->setObjectName("proposalWhy");
    for (auto *label : {m_words, m_small, m_why}) {
        label->setTextFormat(Qt::PlainText);
        label->setWordWrap(true);
        column->addWidget(label);
    }
    auto *row = new QHBoxLayout;
    row->setSpacing(theme.space(2));
    const auto button = [&](const QString &text, const char *name, auto call) {
        auto *b = new QPushButton(text);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, call);
        row->addWidget(b);
        return b;
    };
    m_all = button(tr("Take &all"), "proposalAll", [this] {
        const auto *p = shown();
        if (p != nullptr)
            take(*p, tr("Wire as the kit says"));
    });
    m_modules->setObjectName("proposalModule");
    m_modules->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_modules->setMinimumContentsLength(14);
    row->addWidget(m_modules);
    connect(m_modules, &QComboBox::activated, this, [this] {
        const auto module = m_modules->currentData().toString().toStdString();
        const auto *p = shown();
        if (p != nullptr && !module.empty())
            take(wireup::moduleOf(*p, m_session.catalogue(), module),
                 tr("Wire %1").arg(m_modules->currentText()));
    });
    m_next = button(tr("&Next wire"), "proposalNext", [this] {
        const auto *p = shown();
        if (p != nullptr && !p->wires.empty())
            take(wireup::firstOf(*p, m_session.catalogue(), 1),
                 tr("Wire %1").arg(wireWords(p->wires.front().wire)));
    });
    row->addStretch(1);
    auto *caution = new QLabel(tr("Power off, cells out."));
    caution->setProperty("caution", true);
    row->addWidget(caution);
    button(tr("&Leave it"), "proposalLeave", [this] { leave(); });
    column->addLayout(row);
    setVisible(false);
}

void ProposalBar::propose()
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    auto p = wireup::proposal(*car, m_session.catalogue());
    if (!p.impossible && p.empty() && p.waiting.empty() && p.wrong.empty()) {
        leave();
        return emit m_session.said(
            tr("Nothing to do: every wire that kit and program ask for is there."), false);
    }
    m_proposal = std::move(p);
    m_of = *car;
    fill();
    emit changed();
}

void ProposalBar::leave()
{
    const bool was = m_proposal.has_value();
    m_proposal.reset();
    m_of.reset();
    setVisible(false);
    if (was)
        emit changed();
}

const wireup::Proposal *ProposalBar::shown()
{
    const auto *car = m_session.car();
    if (!m_proposal)
        return nullptr;
    if (car == nullptr || car->id != m_of->id) { // another car is looked at
        m_proposal.reset();
        m_of.reset();
        setVisible(false);
        return nullptr;
    }
    if (!(*car == *m_of)) { // it was changed, by the last step or by hand
        m_of = *car;
        m_proposal = wireup::proposal(*car, m_session.catalogue());
        if (!m_proposal->impossible && m_proposal->empty() && m_proposal->waiting.empty() &&
            m_proposal->wrong.empty()) {
            m_proposal.reset();
            m_of.reset();
            setVisible(false);
            return nullptr;
        }
        fill();
    }
    return &*m_proposal;
}

HarnessChanges ProposalBar::changes() const
{
    HarnessChanges changes;
    int step = 0;
    for (const auto &w : m_proposal ? m_proposal->wires : std::vector<wireup::NewWire>{})
        changes.numbers[str(w.wire.from) + "\n" + str(w.wire.to)] = ++step;
    return changes;
}

void ProposalBar::explain(int wire)
{
    QString words;
    if (m_proposal && wire >= 0 && wire < static_cast<int>(m_proposal->car.wires.size()))
        for (const auto &w : m_proposal->wires)
            if (w.wire == m_proposal->car.wires[static_cast<size_t>(wire)])
                words = w.why.empty() ? wireWords(w.wire)
                                      : tr("%1: %2.").arg(wireWords(w.wire), str(w.why));
    m_why->setText(words);
    m_why->setVisible(!words.isEmpty());
}

void ProposalBar::fill()
{
    m_words->setText(headline(*m_proposal));
    const auto small = smallWords(*m_proposal, m_session.catalogue());
    m_small->setText(small.join("\n"));
    m_small->setVisible(!small.isEmpty());
    explain(-1);
    const bool any = !m_proposal->wires.empty() || !m_proposal->jumpers.empty();
    m_all->setEnabled(any);
    m_next->setEnabled(any);
    m_modules->setEnabled(any);
    fillModules();
    setVisible(true);
}

void ProposalBar::fillModules()
{
    const QSignalBlocker still(m_modules);
    m_modules->clear();
    m_modules->addItem(tr("one module ..."), QString());
    std::map<std::string, int> count;
    for (const auto &w : m_proposal->wires)
        ++count[w.module];
    for (const auto &i : m_proposal->ready.parts)
        if (count[i.id] > 0)
            m_modules->addItem(tr("%1 (%2)").arg(str(kit::labelOf(i))).arg(count[i.id]), str(i.id));
}

void ProposalBar::take(const wireup::Proposal &part, const QString &text)
{
    const auto after = part.car;
    if (editWiring(m_session, text, [&](kit::Car &car) { car = after; }))
        emit changed();
}

} // namespace badger::app
