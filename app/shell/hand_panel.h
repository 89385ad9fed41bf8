// SPDX-License-Identifier: GPL-3.0-or-later
// The hand: what to do now, what to know, what is fine, and the same car done another way.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"

#include <QPointer>
#include <QWidget>
#include <optional>

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace badger::app
{

/// Bars of the gap that is left when the car is done another way.
class OtherWays final : public QWidget
{
    Q_OBJECT
public:
    OtherWays(const std::vector<judge::OtherWay> &ways, const Theme &theme,
              QWidget *parent = nullptr);
    void show(const std::vector<judge::OtherWay> &ways);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    std::vector<judge::OtherWay> m_ways;
    const Theme &m_theme;
};

class HandPanel final : public QWidget
{
    Q_OBJECT
public:
    HandPanel(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

private:
    /// What the panel says, so that a part of it that says the same stays as it is.
    struct Content {
        judge::NextStep next;
        bool nextElsewhere = false;
        std::vector<Finding> findings;
        bool isChecked = false;
        Say unchecked;                                         ///< why nothing has been checked
        std::vector<std::pair<judge::Station, int>> elsewhere; ///< errors of other stations
        std::vector<judge::OtherWay> ways;
        std::vector<Say> fine;
    };
    Content content(const judge::Judgement &judgement) const;
    void showNothing();
    void hideEmpty();
    bool updateNext(const Content &before);
    QVBoxLayout *section();
    void fillNext();
    void fillFindings();
    void addLines(QVBoxLayout &texts, const std::vector<Say> &lines);
    void addButtons(QVBoxLayout &texts, const Finding &finding);
    void fillElsewhere();
    void fillWays();
    void fillFine();
    void addHeading(QVBoxLayout &to, const QString &text, const QString &aside = {});

    Session &m_session;
    const Theme &m_theme;
    QScrollArea *m_scroll = nullptr;
    judge::Station m_shown = judge::Station::Rule;
    QWidget *m_content = nullptr;
    QVBoxLayout *m_layout = nullptr;
    QVBoxLayout *m_nothing = nullptr;
    QVBoxLayout *m_next = nullptr;
    QVBoxLayout *m_findings = nullptr;
    QVBoxLayout *m_elsewhere = nullptr;
    QVBoxLayout *m_ways = nullptr;
    QVBoxLayout *m_fine = nullptr;
    QPointer<QLabel> m_nextTitle;
    QPointer<QLabel> m_nextText;
    QPointer<OtherWays> m_waysView;
    std::optional<Content> m_said;
};

} // namespace badger::app
