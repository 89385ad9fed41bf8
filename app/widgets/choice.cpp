// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/choice.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace badger::app
{

Choice::Choice(const QStringList &labels, QWidget *parent) : QWidget(parent)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    for (int i = 0; i < labels.size(); ++i) {
        auto *button = new QPushButton(labels[i]);
        button->setCheckable(true);
        button->setProperty("segment", true);
        layout->addWidget(button);
        m_group.addButton(button, i);
    }
    connect(&m_group, &QButtonGroup::idClicked, this, &Choice::chosen);
}

void Choice::setIndex(int index)
{
    m_group.setExclusive(false);
    for (auto *button : m_group.buttons())
        button->setChecked(m_group.id(button) == index);
    m_group.setExclusive(true);
}

} // namespace badger::app
