// SPDX-License-Identifier: GPL-3.0-or-later
// Tune: what does this sensor say here, and where is the line between yes and no?
#pragma once

#include "app/shell/station_view.h"
#include "app/tune/bench_picture.h"
#include "app/tune/live_bar.h"
#include "app/widgets/quantity_field.h"
#include "core/judge/take_over.h"
#include "core/tune/csv.h"

class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace badger::app
{

class TuneStation final : public StationView
{
    Q_OBJECT
public:
    TuneStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    Sum sum() const override;
    void reveal(const QString &target) override;
    QList<QAction *> stationActions() const override { return m_actions; }

    /// What is looked at: "ruler:ranger", "turn:".
    void pick(const QString &key);
    LiveBar &live() { return *m_live; }
    /// Columns of readings, shown as they would stand; they are kept by hand.
    void takeFile(const QString &path);
    void takeText(const QString &text);

protected:
    void keyPressEvent(QKeyEvent *event) override;
    void showEvent(QShowEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    QWidget *makeHand();
    QHBoxLayout *makeConditions();
    void connectHand();
    void makeActions();
    const judge::BenchItem *item() const;
    void refreshItems();
    void refreshHand();
    void refreshStretches();
    void refreshPicture();
    void record();
    void keep();
    void discard();
    void typed();
    void fromFile();
    void takeTable(const Result<tune::CsvColumns> &got,
                   const std::vector<tune::WantedColumn> &wanted);
    void keepTable();
    std::shared_ptr<const tune::Record> tableRecord() const;
    void use();
    void useRuler(const tune::Record &record);
    void useSpeeds(const tune::Record &record);
    void useHorn(const judge::BenchItem &item);
    judge::TakenOver takenOver() const;
    void useInProgram();
    void useComputedLine();
    /// What the car says its horn lacks, in degrees; none where it says nothing.
    std::optional<double> lacksNow(const judge::BenchItem &item) const;
    /// What a record means on this car and for its program.
    void means(BenchPicture::Content &content, const judge::BenchItem &item) const;
    void startAnew();
    /// False: it was refused, and said why.
    bool keepStretch(tune::Stretch stretch, bool chosen, bool fromBoard);
    void removeStretch(int index);
    void setThreshold(double counts, bool done);
    tune::Basis basisNow() const;
    const tune::ProtocolStep *step() const;
    void showStep(int index);

    QString m_picked; ///< key of the item
    QHBoxLayout *m_items;
    BenchPicture *m_picture;
    LiveBar *m_live;
    QLabel *m_stale;
    QLabel *m_stepTitle;
    QLabel *m_stepText;
    QLabel *m_caution;
    QPushButton *m_back;
    QPushButton *m_on;
    QPushButton *m_record;
    QPushButton *m_keep;
    QPushButton *m_discard;
    QPushButton *m_use;
    QLineEdit *m_typed;
    QuantityField *m_air;
    QuantityField *m_battery;
    QVBoxLayout *m_stretches;
    QList<QAction *> m_actions;
    std::vector<tune::ProtocolStep> m_protocol;
    int m_step = 0;
    std::optional<tune::Stretch> m_pending;
    struct Table {
        std::vector<tune::Stretch> stretches; ///< empty: none is looked at
        QString words;                        ///< what can be used of it, and what cannot
    };
    Table m_table;
    std::optional<double> m_air_degC;
    std::optional<double> m_battery_V;
    bool m_anew = false; ///< the next stretch begins a record of its own
    int m_drag = 0;
};

} // namespace badger::app
