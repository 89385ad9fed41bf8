// SPDX-License-Identifier: GPL-3.0-or-later
// The same car with another part: which numbers differ?
#pragma once

#include "app/shell/station_page.h"
#include "app/theme/theme.h"
#include "core/judge/compare.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QSpinBox;

namespace badger::app
{

/// Two builds side by side; what differs is drawn large, as a pair of bars on one scale.
class CompareView final : public QWidget
{
    Q_OBJECT
public:
    explicit CompareView(const Theme &theme, QWidget *parent = nullptr);
    void show(judge::Comparison comparison, const QString &a, const QString &b);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }
    const judge::Comparison &comparison() const { return m_comparison; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    qreal paintFindings(QPainter &p, qreal x, qreal y, qreal width, const QString &heading,
                        const std::vector<Finding> &findings) const;

    const Theme &m_theme;
    judge::Comparison m_comparison;
    QString m_a;
    QString m_b;
};

class ComparePage final : public StationPage
{
    Q_OBJECT
public:
    ComparePage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    void choose(const QString &instance);

signals:
    /// The alternative is taken: this part, and for a pack so many cells in series.
    void taken(const QString &instance, const QString &partId, int cells);

private:
    void fillParts();
    void fillAlternatives();
    void compare();

    Session &m_session;
    QComboBox *m_part;
    QComboBox *m_other;
    QLabel *m_cellsLabel;
    QSpinBox *m_cells;
    QPushButton *m_take;
    CompareView *m_view;
};

} // namespace badger::app
