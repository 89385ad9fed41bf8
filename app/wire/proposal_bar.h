// SPDX-License-Identifier: GPL-3.0-or-later
// The harness that kit and program ask for: said over its picture, and taken whole, module by
// module or wire by wire.
#pragma once

#include "app/wire/harness_view.h"
#include "core/wireup/proposal.h"

#include <QFrame>
#include <optional>

class QComboBox;
class QLabel;
class QPushButton;

namespace badger::app
{

class Session;

class ProposalBar final : public QFrame
{
    Q_OBJECT
public:
    ProposalBar(Session &session, const Theme &theme, QWidget *parent = nullptr);

    /// Makes the proposal for the selected car and shows it; says so where nothing is left to do.
    void propose();
    void leave();
    /// The proposal that is looked at, of the car as it is now; null: none.
    const wireup::Proposal *shown();
    /// What is new in it.
    HarnessChanges changes() const;
    /// Why this wire of the proposal's car is there; empty: none of the new ones was picked.
    void explain(int wire);

signals:
    void changed();

private:
    void fill();
    void fillModules();
    void take(const wireup::Proposal &part, const QString &text);

    Session &m_session;
    std::optional<wireup::Proposal> m_proposal;
    std::optional<kit::Car> m_of; ///< the car it was made for
    QLabel *m_words;
    QLabel *m_small;
    QLabel *m_why;
    QComboBox *m_modules;
    QPushButton *m_all;
    QPushButton *m_next;
};

} // namespace badger::app
