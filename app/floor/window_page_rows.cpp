// SPDX-License-Identifier: GPL-3.0-or-later
// The conditions of a window that a person adds, changes and takes out.
#include "app/floor/row_dialog.h"
#include "app/floor/window_page.h"
#include "app/widgets/text.h"
#include "core/window/search.h"

#include <QPushButton>

namespace badger::app
{

std::optional<size_t> WindowPage::ownCondition() const
{
    const int picked = m_view->picked();
    const auto *car = m_session.car();
    if (!m_window || picked < 0 || car == nullptr)
        return std::nullopt;
    for (size_t i = 0; i < car->conditions.size(); ++i)
        if (const auto row = window::rowOf(car->conditions[i]);
            row && row->label == m_window->rows[size_t(picked)].row.label)
            return i;
    return std::nullopt;
}

void WindowPage::editConditions(const QString &what,
                                const std::function<void(std::vector<std::string> &)> &change)
{
    m_session.editCar(what, [&](kit::Car &car) { change(car.conditions); });
}

/// What the car asks itself is changed; what was proposed stays, switched out, and the changed row
/// stands below.
void WindowPage::openRowDialog(bool ofPicked)
{
    const int picked = m_view->picked();
    window::Row from;
    from.kind = "straight";
    if (ofPicked && m_window && picked >= 0)
        from = m_window->rows[size_t(picked)].row;
    const auto own = ofPicked ? ownCondition() : std::nullopt;
    auto *dialog = new RowDialog(m_session, m_theme, from, window());
    const auto of = m_session.carId();
    connect(dialog, &RowDialog::taken, this, [this, of, own, ofPicked, from](const QString &text) {
        if (m_session.carId() != of) // the condition was meant for another car
            return emit m_session.said(
                tr("Another car is selected now: nothing was taken in. Select the car that the "
                   "condition is for, and add it again."),
                true);
        const auto typed = text.toStdString();
        if (ofPicked && !own)
            m_off.insert(str(from.label).toStdString());
        editConditions(own ? tr("Change a condition") : tr("Add a condition"),
                       [&](std::vector<std::string> &all) {
                           if (own && *own < all.size())
                               all[*own] = typed;
                           else if (std::find(all.begin(), all.end(), typed) == all.end())
                               all.push_back(typed);
                       });
    });
    dialog->show();
}

void WindowPage::removeRow()
{
    if (const auto own = ownCondition())
        editConditions(tr("Take a condition out"),
                       [&](std::vector<std::string> &all) { all.erase(all.begin() + long(*own)); });
}

} // namespace badger::app
