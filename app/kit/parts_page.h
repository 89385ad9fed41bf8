// SPDX-License-Identifier: GPL-3.0-or-later
// What can a part do, and where does each figure come from? The catalogue with its ranges; a
// person's own parts beside it.
#pragma once

#include "app/kit/figure_range.h"
#include "app/shell/station_page.h"
#include "app/theme/theme.h"

#include <QWidget>

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace badger::app
{

class PartsPage final : public StationPage
{
    Q_OBJECT
public:
    PartsPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    void choose(const QString &partId);
    QString chosen() const { return m_chosen; }

signals:
    void addWanted(const QString &partId);

private:
    void fillList();
    void showPart();
    void addFigureRow(const parts::Part &part, const std::string &key, bool own);
    QLineEdit *figureField(const std::string &key, std::optional<double> value,
                           const std::function<void(double)> &take);
    void addFigureSource(const parts::Figure *figure, const std::string &key, bool own);
    void connectEdits();
    void editFigure(const std::string &key, const QString &what,
                    const std::function<void(parts::Figure &)> &edit);
    void editOwn(const QString &text, const std::function<void(parts::Part &)> &edit);
    void copyPart(bool forThisCar);
    void deletePart();
    bool isOwn(const std::string &id) const;
    QStringList users(const std::string &id) const;

    Session &m_session;
    const Theme &m_theme;
    QComboBox *m_kind;
    QListWidget *m_list;
    QLineEdit *m_name;
    QLabel *m_about;
    QPushButton *m_add;
    QPushButton *m_copy;
    QPushButton *m_copyHere;
    QPushButton *m_delete;
    QGridLayout *m_grid;
    QString m_chosen;
    int m_row = 0;
};

} // namespace badger::app
