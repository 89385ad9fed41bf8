// SPDX-License-Identifier: GPL-3.0-or-later
// One wire at a time, to be read from two metres away; then the first power walk.
#pragma once

#include "app/shell/station_page.h"
#include "core/firstpower/walk.h"
#include "core/revisions/history.h"

class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace badger::app
{

/// One thing for the hand: a wire or a jumper, or a step of the walk.
struct BenchItem {
    QString key; ///< of the tick, or of the walk's entry
    std::optional<revisions::HandStep> hand;
    std::optional<firstpower::Step> step;
    firstpower::Verdict state = firstpower::Verdict::Open;
    QString caution;
    QString trouble; ///< what the checks find at this wire
};
/// What there is to do on a car, in order, with what is done. `findings` are those of its wires.
std::vector<BenchItem> benchItems(const kit::Assembly &car, const std::vector<Finding> &findings);

/// The picture: two parts as strips of terminals and the wire between them, or the step's words.
class BenchView final : public QWidget
{
    Q_OBJECT
public:
    explicit BenchView(const Theme &theme, QWidget *parent = nullptr);
    void show(const kit::Car &car, const parts::Catalogue &catalogue,
              const std::vector<BenchItem> &items, int at);
    void showNothing(const QString &words);
    QSize sizeHint() const override;

signals:
    void done();
    void back();
    void moved(int by);

protected:
    void paintEvent(QPaintEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void paintProgress(QPainter &p, const QRectF &box) const;
    void paintHand(QPainter &p, const QRectF &box) const;
    void paintStrip(QPainter &p, const std::string &terminal, const QRectF &box,
                    bool onRight) const;
    void paintStep(QPainter &p, const QRectF &box) const;
    int big() const; ///< the size of the terminal's name, in pixels

    const Theme &m_theme;
    kit::Car m_car;
    parts::Catalogue m_catalogue;
    std::vector<BenchItem> m_items;
    QString m_words;
    int m_at = -1;
};

class BenchPage final : public StationPage
{
    Q_OBJECT
public:
    BenchPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    std::optional<Sum> sum() const override;
    int at() const { return m_at; }
    const std::vector<BenchItem> &items() const { return m_items; }

private:
    void showAt(int index);
    int firstOpen() const;
    void done();
    void back();
    void setTick(const BenchItem &item, bool on);
    void enter(std::optional<double> value, bool asExpected);
    void makeAnswer();

    Session &m_session;
    const Theme &m_theme;
    BenchView *m_view;
    QLabel *m_trouble;
    QLabel *m_caution;
    QHBoxLayout *m_answer;
    std::vector<BenchItem> m_items;
    Id<kit::Car> m_car;
    int m_at = -1;
};

} // namespace badger::app
