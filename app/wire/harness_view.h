// SPDX-License-Identifier: GPL-3.0-or-later
// The harness: two combs of pins facing each other, every wire in its own colour.
#pragma once

#include "app/theme/theme.h"
#include "app/wire/harness_layout.h"
#include "core/base/finding.h"

#include <QWidget>
#include <map>
#include <set>

namespace badger::app
{

/// What changed between two builds, shown over the later one.
struct HarnessChanges {
    std::vector<kit::Wire> gone; ///< as they ran before
    std::map<QString, int>
        numbers; ///< the step of a wire, by its two ends with a line break between
    bool empty() const { return gone.empty() && numbers.empty(); }
};

/// What a meter finds, drawn into the harness.
struct HarnessMeter {
    std::map<std::string, QString> volts; ///< by terminal, "4.97 V"
    std::map<std::string, bool> set;      ///< outputs that are set high (true) or let go
    std::map<std::string, QString> parts; ///< of motors: "forward, 0.16 A"
    bool switchOpen = false;
};

class HarnessView final : public QWidget
{
    Q_OBJECT
public:
    explicit HarnessView(const Theme &theme, QWidget *parent = nullptr);
    void show(const kit::Car &car, const parts::Catalogue &catalogue,
              const std::vector<Finding> &findings);
    void showNothing(const QString &words);
    /// Fades what stays, numbers what changed, draws dashed what is gone; until the next show().
    void showChanges(HarnessChanges changes);
    /// Volts beside the terminals, what motors do, the switch's lever; empty: none.
    void showMeter(std::optional<HarnessMeter> meter);
    /// Paints the harness as large as a size allows, without focus, hover or pick; for paper. What
    /// it takes of that size comes back.
    QSizeF paintPlain(QPainter &p, QSizeF size);
    /// A size in which it is painted one to one.
    QSizeF plainSize() const;

    /// The picked wire (index into the car's wires) or -1.
    void pickWire(int index);
    int pickedWire() const { return m_picked; }
    /// Marks a terminal, so that a finding's place is seen.
    void markTerminal(const std::string &name);
    const HarnessLayout &layoutOfHarness() const { return m_layout; }
    QSize sizeHint() const override;

signals:
    void wirePicked(int index);
    void wireHovered(int index);             ///< -1: none
    void terminalTwice(const QString &name); ///< it was double-clicked
    void terminalPicked(const QString &name);
    /// A wire's end was dragged to another terminal.
    void endMoved(int wire, bool fromEnd, const QString &terminal);

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    static constexpr qreal sideMargin = 26; ///< room for bows and marks
    void arrange();
    int wireAt(QPointF at) const;
    const HarnessTerminal *terminalAt(QPointF at) const;
    void paintPart(QPainter &p, const HarnessPart &part) const;
    void paintWire(QPainter &p, const HarnessWire &wire, bool lit, bool faded) const;
    void paintTerminal(QPainter &p, const HarnessPart &part, const HarnessTerminal &t) const;
    void paintGone(QPainter &p) const;
    void paintNumbers(QPainter &p) const;
    void paintVolts(QPainter &p, const HarnessTerminal &t, QRectF box, qreal name) const;
    void paintDoes(QPainter &p, const HarnessPart &part) const;
    int numberOf(const kit::Wire &wire) const; ///< 0: it did not change
    std::optional<Severity> worstAt(const std::string &terminal) const;

    kit::Car m_car;
    parts::Catalogue m_catalogue;
    std::vector<Finding> m_findings;
    std::set<std::string> m_libraries; ///< of the car: they take PWM away
    HarnessChanges m_changes;
    std::optional<HarnessMeter> m_meter;
    QString m_words;
    HarnessLayout m_layout;
    qreal m_row = 0.0; ///< height of one terminal
    int m_picked = -1;
    int m_hovered = -1;
    std::string m_marked;
    struct Drag {
        int wire = -1;
        bool fromEnd = false;
        QPointF at;
        bool moved = false;
    } m_drag;
    const Theme &m_theme;
};

} // namespace badger::app
