// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/wants_row.h"

#include "app/theme/theme.h"
#include "app/widgets/text.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>

namespace badger::app
{

using units::Dimension;
using units::Unit;

namespace
{

/// Up to whole centimetres: the next that leaves enough.
double rounded(double least_m)
{
    return std::ceil(least_m * 100.0 - 1e-6) / 100.0;
}

} // namespace

WantsRow::WantsRow(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session),
      m_wanted(new QuantityField(Dimension::Length, Unit::Centimetre)),
      m_setBack(new QuantityField(Dimension::Length, Unit::Centimetre)), m_inverse(new QLabel),
      m_useLeast(new QPushButton)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme.space(2));
    const auto add = [&](const QString &name, QuantityField *field) {
        auto *label = new QLabel(name);
        label->setProperty("small", true);
        label->setBuddy(field);
        field->setAccessibleName(name);
        field->setFixedWidth(qRound(66 * theme.scale()));
        row->addWidget(label);
        row->addWidget(field);
        connect(field, &QuantityField::refused, this,
                [this](const QString &reason) { emit m_session.said(reason, true); });
    };
    add(tr("Wanted gap"), m_wanted);
    add(tr("Set-back"), m_setBack);
    m_wanted->setHint(QStringLiteral("?"));
    m_wanted->setObjectName("wantedGap");
    m_setBack->setObjectName("setBack");
    m_setBack->setToolTip(tr("How far the ranger sits behind the car's foremost point"));
    m_inverse->setProperty("small", true);
    m_useLeast->setProperty("link", true);
    m_useLeast->setCursor(Qt::PointingHandCursor);
    row->addWidget(m_inverse);
    row->addWidget(m_useLeast);
    row->addStretch(1);
    connect(m_wanted, &QuantityField::taken, this, [this](double m) {
        editCar(tr("Set the wanted gap"), [m](kit::Car &car) { car.wantedGap_m = m; });
    });
    connect(m_setBack, &QuantityField::taken, this, [this](double m) {
        const auto *j = m_session.current();
        const auto *reading =
            j && j->budget ? m_session.program()->reading(j->budget->reading) : nullptr;
        if (reading == nullptr)
            return;
        editCar(tr("Move the ranger"), [m, id = reading->instance](kit::Car &car) {
            for (auto &i : car.parts)
                if (i.id == id)
                    for (auto &carrier : car.parts)
                        if ((carrier.id == id || carrier.id == i.carriedBy) && carrier.mount)
                            carrier.mount->setBack_m = m;
        });
    });
    connect(m_useLeast, &QPushButton::clicked, this, &WantsRow::useLeast);
}

/// The fields show what is, not what was refused.
void WantsRow::editCar(const QString &text, const std::function<void(kit::Car &)> &change)
{
    if (!m_session.editCar(text, change))
        refresh();
}

void WantsRow::useLeast()
{
    const auto *j = m_session.current();
    if (!j || !j->budget || !j->budget->leastThreshold_m)
        return;
    m_session.editProgram(tr("Move the threshold"),
                          [name = j->budget->valueName,
                           si = rounded(*j->budget->leastThreshold_m)](rules::Program &p) {
                              for (auto &v : p.values)
                                  if (v.name == name) {
                                      v.si = si;
                                      v.suggested = false;
                                  }
                          });
}

void WantsRow::refresh()
{
    const auto *j = m_session.current();
    const bool stops = j && j->budget;
    setVisible(stops);
    if (!stops)
        return;
    const auto &b = *j->budget;
    m_wanted->setValue(m_session.car()->wantedGap_m);
    m_setBack->setValue(b.setup.setBack_m);
    m_inverse->clear();
    m_useLeast->hide();
    if (!b.leastThreshold_m)
        return;
    auto words =
        tr("'%1' needs %2 or more")
            .arg(str(b.valueName), str(units::fixed(*b.leastThreshold_m, Unit::Centimetre, 2)));
    if (b.greatestSpeed_mps && std::isfinite(*b.greatestSpeed_mps))
        words += tr(", or %1 at most")
                     .arg(str(units::fixed(*b.greatestSpeed_mps, Unit::MetrePerSecond, 2)));
    m_inverse->setText(words);
    const double least_m = rounded(*b.leastThreshold_m);
    m_useLeast->setText(tr("use %1").arg(str(units::quantity(least_m, Unit::Centimetre, 2))));
    m_useLeast->setVisible(std::abs(b.setup.threshold_m - least_m) > 1e-6);
}

} // namespace badger::app
