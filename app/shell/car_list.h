// SPDX-License-Identifier: GPL-3.0-or-later
// The class, always in view: one tag a car with its gate marks.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"

#include <QAbstractButton>
#include <QPointer>
#include <QWidget>

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace badger::app
{

/// One car: its name and a mark for each station.
class CarTag final : public QAbstractButton
{
    Q_OBJECT
public:
    CarTag(const QString &name, bool selected, const Theme &theme, QWidget *parent = nullptr);
    /// Its marks; null while it is being judged.
    void show(const judge::Judgement *judgement);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    std::array<judge::Gate, judge::stations.size()> m_gates{};
    bool m_known = false;
    QString m_name; ///< not the button's text, in which an ampersand means a key
    bool m_selected;
    const Theme &m_theme;
};

class CarList final : public QWidget
{
    Q_OBJECT
public:
    CarList(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

signals:
    void newCarWanted();

protected:
    void resizeEvent(QResizeEvent *event) override;

private:
    void showSelected();
    bool keepTags();

    QStringList m_names; ///< of the tags
    Id<kit::Car> m_shownCar;

    Session &m_session;
    const Theme &m_theme;
    QScrollArea *m_scroll;
    QPointer<CarTag> m_selected;
    QLabel *m_name;
    QLabel *m_bench;
    QWidget *m_tags;
    QVBoxLayout *m_tagLayout;
};

} // namespace badger::app
