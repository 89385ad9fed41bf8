// SPDX-License-Identifier: GPL-3.0-or-later
// The picked part: which one it is, where it sits, what feeds it. Everything that can be dragged
// can be typed here.
#pragma once

#include "app/theme/theme.h"
#include "app/widgets/quantity_field.h"
#include "core/kit/car.h"

#include <QWidget>
#include <functional>

class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;

namespace badger::app
{

class PartBar final : public QWidget
{
    Q_OBJECT
public:
    explicit PartBar(const Theme &theme, QWidget *parent = nullptr);

    /// Shows the part; an id that is none shows the car's own measures.
    void show(const kit::Car &car, const parts::Catalogue &catalogue, const QString &instance);

signals:
    /// An edit of the picked part or of the car; its words are for the undo list.
    void edited(const QString &text, const std::function<void(kit::Car &)> &edit);
    void exchangeWanted(const QString &instance, const QString &partId);
    void compareWanted(const QString &instance);
    void removeWanted(const QString &instance);
    void refused(const QString &reason);

private:
    void clear();
    void showCar(const kit::Car &car);
    void showWhat(const kit::Car &car, const parts::Catalogue &catalogue,
                  const kit::Instance &fitted);
    void showButtons();
    void showPlace(const kit::Car &car, const parts::Catalogue &catalogue,
                   const kit::Instance &fitted);
    void showFeeds(const kit::Car &car, const parts::Catalogue &catalogue,
                   const kit::Instance &fitted);
    void showCarrier(const kit::Car &car, const parts::Catalogue &catalogue,
                     const kit::Instance &fitted);
    void showDrive(const kit::Car &car, const parts::Catalogue &catalogue,
                   const kit::Instance &fitted, bool byChannel);
    void addLabel(const QString &text, QWidget *buddy, int row);
    QuantityField *addQuantity(const QString &label, const QString &name,
                               units::Dimension dimension, units::Unit unit,
                               std::optional<double> value, int row,
                               std::function<void(kit::Instance &, double)> set);
    QSpinBox *addCount(const QString &label, const QString &name, int value, int row,
                       std::function<void(kit::Instance &, int)> set);
    QComboBox *addChoice(const QString &label, const QString &name, const QStringList &words,
                         int current, int row, std::function<void(int)> chosen);
    void editPart(const QString &text, const std::function<void(kit::Instance &)> &edit);

    const Theme &m_theme;
    QString m_instance;
    bool m_alternatives = false; ///< the catalogue has others of its kind
    QHBoxLayout *m_rows[2] = {};
};

} // namespace badger::app
