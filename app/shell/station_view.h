// SPDX-License-Identifier: GPL-3.0-or-later
// What does the shell ask of a station?
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "core/base/derivation.h"

#include <QKeySequence>
#include <QWidget>
#include <functional>

class QAction;

namespace badger::app
{

/// One term of the sum at the bottom: what is said, and where it comes from.
struct SumPart {
    QString text;    ///< "− 0.24 m/s × 65 ms"
    QString caption; ///< "age, loop, actuation: 1.6 cm"
};

/// The picked number as a sum, and its whole derivation as lines for when the bar is pulled up.
struct Sum {
    QString result; ///< "25.9 cm"
    std::vector<SumPart> parts;
    QString aside; ///< "typically 26.7 cm"
    struct Line {
        QString name;
        QString value;
        QString how;
        QString from;
    };
    std::vector<Line> derivation;

    /// The derivation's steps as lines.
    void unfold(const Derivation &d);
};

/// What the shell says over a station.
struct Heading {
    QString sentence;
    QString conditions;
};

/// A station: its heart picture and what belongs to it. The shell shows headline, sum and hand.
class StationView : public QWidget
{
    Q_OBJECT
public:
    StationView(Session &session, const Theme &theme, QWidget *parent = nullptr)
        : QWidget(parent), m_session(session), m_theme(theme)
    {
    }
    virtual void refresh() = 0;
    virtual Sum sum() const = 0;
    /// Nothing where the car's judgement at this station is said.
    virtual std::optional<Heading> heading() const { return std::nullopt; }
    /// Shows the place a finding names; does nothing for one it does not know.
    virtual void reveal(const QString &target) { (void)target; }
    /// Actions of this station, for its menu.
    virtual QList<QAction *> stationActions() const { return {}; }

signals:
    void sumChanged(); ///< or the heading

protected:
    Session &session() const { return m_session; }
    const Theme &theme() const { return m_theme; }

private:
    Session &m_session;
    const Theme &m_theme;
};

} // namespace badger::app
