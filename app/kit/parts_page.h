// SPDX-License-Identifier: GPL-3.0-or-later
// What can a part do, and where does each figure come from? The catalogue with its ranges; a
// person's own parts beside it.
#pragma once

#include "app/shell/session.h"
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

/// A figure's range on the scale of every part of its kind, its typical value as a tick.
class RangeBar final : public QWidget
{
    Q_OBJECT
public:
    RangeBar(const parts::Figure &figure, double least, double most, const Theme &theme,
             QWidget *parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    parts::Figure m_figure;
    double m_least;
    double m_most;
    const Theme &m_theme;
};

class PartsPage final : public QWidget
{
    Q_OBJECT
public:
    PartsPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();
    void choose(const QString &partId);
    QString chosen() const { return m_chosen; }

signals:
    void addWanted(const QString &partId);

private:
    void fillList();
    void showPart();
    void addFigureRow(const parts::Part &part, const std::string &key, bool own);
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

/// How a figure is typed and shown, from the unit at the end of its key.
struct FigureUnit {
    std::optional<units::Dimension> dimension; ///< none: a bare number
    units::Unit unit = units::Unit::Metre;
};
FigureUnit unitOf(std::string_view key);
QString figureText(std::string_view key, double si);

} // namespace badger::app
