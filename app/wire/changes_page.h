// SPDX-License-Identifier: GPL-3.0-or-later
// What changes between two builds: in the harness, as steps for the hand, and what goes stale.
#pragma once

#include "app/shell/station_page.h"
#include "app/wire/harness_view.h"
#include "core/edit/next_exercise.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace badger::app
{

class ChangesPage final : public StationPage
{
    Q_OBJECT
public:
    ChangesPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    std::optional<Sum> sum() const override;

private:
    /// Two builds and how one becomes the other.
    struct Shown {
        kit::Car after;
        revisions::Rebuild rebuild; ///< from the car it is compared with
        QString headline;
        QStringList notes;
        bool proposed = false; ///< `after` is a plan that can be taken
    };

    QWidget *makeChoices();
    QWidget *makeFinish();
    void fillChoices(const kit::Car &car);
    void showRevisions();
    void planPins();
    void planExercise();
    void showImpossible(const pins::PinPlan &plan);
    void showIt(Shown shown);
    void takePlan();
    void finish();
    QStringList troubles(const kit::Car &before, const kit::Car &after) const;
    void addStep(int number, const revisions::HandStep &step);
    void addWords(const QString &text, const char *property);

    Session &m_session;
    const Theme &m_theme;
    QComboBox *m_from;
    QComboBox *m_to;
    QComboBox *m_next;
    HarnessView *m_harness;
    QVBoxLayout *m_list;
    QPushButton *m_take;
    QWidget *m_finish;
    QLineEdit *m_reason;
    Id<kit::Car> m_car;
    std::optional<kit::Car> m_seen; ///< the car that `m_shown` was made from
    Shown m_shown;
};

} // namespace badger::app
