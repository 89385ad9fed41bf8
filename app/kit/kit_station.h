// SPDX-License-Identifier: GPL-3.0-or-later
// Kit: will these parts work together, and for how long? What must be cut, drilled, fitted?
#pragma once

#include "app/document/edits.h"
#include "app/kit/car_plan.h"
#include "app/kit/compare_page.h"
#include "app/kit/make_page.h"
#include "app/kit/part_bar.h"
#include "app/kit/parts_page.h"
#include "app/kit/power_view.h"
#include "app/shell/station_page.h"

class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;

namespace badger::app
{

class Choice;
class FixBar;

class KitStation final : public PagedStation
{
    Q_OBJECT
public:
    enum class Page { Car, Make, Parts, Compare };

    KitStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void reveal(const QString &target) override;
    QList<QAction *> stationActions() const override { return m_actions; }

    Page page() const { return Page(pageIndex()); }
    void showPage(Page page) { showPageAt(int(page)); }
    MakePage &makePage() { return *m_make; }

protected:
    void refreshAround() override;
    void refreshOwn() override;
    Sum ownSum() const override;

private:
    QWidget *makeMissionRow();
    QWidget *makeCarPage();
    QHBoxLayout *makeStateRow();
    void makeActions();
    void refreshMission();
    void refreshNumbers();
    QString mendLink(const kit::Need &need) const;
    void mendGap(const QString &link);
    void refreshCompleter();
    void pickPart(const QString &instance);
    void pickNumber(const QString &key);
    /// False where it was refused; the reason has been said.
    bool edit(const QString &text, const std::function<void(kit::Car &)> &edit,
              int drag = Edit::noDrag);
    void setMission(const std::function<void(kit::Mission &)> &edit);
    void movePart(const QString &instance, double setBack_m, double offset_m, int drag);
    void addPart(const QString &partId);
    void addTyped();
    void removePart(const QString &instance);
    void exchange(const QString &instance, const QString &partId, int cells = 0);
    Derivation pickedDerivation() const;
    std::optional<double> threshold_m() const;

    QComboBox *m_behaviour;
    QComboBox *m_floor;
    QLabel *m_needs;
    FixBar *m_fixBar;
    CarPlan *m_plan;
    PowerView *m_tree;
    QWidget *m_treeArea;
    Choice *m_charge;
    Choice *m_load;
    Choice *m_case;
    QHBoxLayout *m_numbers;
    PartBar *m_bar;
    QLineEdit *m_addField;
    MakePage *m_make;
    PartsPage *m_parts;
    ComparePage *m_compare;
    QList<QAction *> m_actions;
    QString m_number; ///< the picked number that is not a node's; empty: the tree's node
};

} // namespace badger::app
