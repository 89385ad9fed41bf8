// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of the selected floor: drawn with the hand and by numbers, read from a drawing, written
// as one, printed as a mat.
#pragma once

#include "app/floor/floor_choice.h"
#include "app/floor/plan_view.h"
#include "app/shell/station_page.h"

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace badger::app
{

class PlanPage final : public StationPage
{
    Q_OBJECT
public:
    PlanPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    std::optional<Sum> sum() const override;
    PlanView *view() const { return m_view; }
    /// A run of the selected car on the floor that is shown.
    void showRun(const ShownRun &run, const QString &verdict);
    /// The drawing in a file is looked at before it is taken; a floor's JSON is taken at once.
    void readFile(const QString &path);
    void saveSvg(const QString &path);
    void saveJson(const QString &path);
    void saveMat(const QString &path);

signals:
    /// The car is to be driven on a floor that is not kept yet.
    void runWanted(const std::shared_ptr<const floor::Floor> &floor);
    void newFloorWanted();

private:
    QWidget *makeTools();
    QWidget *makeSide();
    void add(floor::NewThing what);
    void remove();
    void keep(const QString &text, const floor::Floor &after, int drag = Edit::noDrag);
    void showNumbers();
    void showNumbers(const std::vector<floor::Number> &numbers);
    QWidget *fieldOf(const floor::Number &number);
    void put(const floor::Number &number, double si);
    void addFaces();
    void askRead();
    void askSave();
    void save(const QString &path, const std::string &text);
    QString nameOfPicked() const;

    Session &m_session;
    const Theme &m_theme;
    PlanView *m_view;
    FloorChoice *m_floors;
    QLabel *m_verdict;
    QLabel *m_what;
    QLineEdit *m_name;
    QGridLayout *m_form;
    std::vector<QWidget *> m_fields;
    QPushButton *m_remove;
    std::vector<QWidget *> m_tools; ///< that need a floor
};

} // namespace badger::app
