// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/row_dialog.h"

#include "app/floor/new_floor.h"
#include "app/widgets/text.h"

#include <QComboBox>
#include <QLabel>
#include <QPainter>
#include <QPushButton>

namespace badger::app
{

namespace
{

/// One floor, or the two ends of a range beside each other.
class Ends final : public QWidget
{
public:
    Ends(const std::vector<floor::Floor> &ends, const Theme &theme) : m_ends(ends), m_theme(theme)
    {
        setMinimumSize(qRound(300 * theme.scale()), qRound(280 * theme.scale()));
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const auto n = qreal(m_ends.size());
        const qreal caption = m_ends.size() > 1 ? 20 * m_theme.scale() : 0;
        for (size_t i = 0; i < m_ends.size(); ++i) {
            const QRectF box(0, qreal(i) * height() / n, width(), height() / n);
            p.setPen(m_theme.color(Tone::Ink));
            p.setFont(m_theme.text(Type::Small));
            if (caption > 0)
                p.drawText(QRectF(box.left(), box.top(), box.width(), caption), Qt::AlignCenter,
                           i == 0 ? tr("lowest") : tr("highest"));
            paintFloorSketch(p, box.adjusted(6, caption + 2, -6, -6), m_ends[i], m_theme);
        }
    }

private:
    const std::vector<floor::Floor> &m_ends;
    const Theme &m_theme;
};

} // namespace

RowDialog::RowDialog(Session &session, const Theme &theme, const window::Row &from, QWidget *parent)
    : QDialog(parent), m_session(session), m_theme(theme)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("A condition of the window"));
    setObjectName("rowDialog");
    auto *page = new QVBoxLayout(this);
    page->setSpacing(theme.space(2));
    m_kinds = new QComboBox;
    m_kinds->setObjectName("rowKind");
    for (const auto &g : floor::generators())
        m_kinds->addItem(tr("%1: %2").arg(str(g.name), tr(g.what)), str(g.name));
    for (const auto &v : window::varied())
        m_kinds->addItem(tr("%1: %2").arg(str(v.name), tr(v.what)), str(v.name));
    m_kinds->addItem(tr("reversed: this floor the other way round"), "reversed");
    connect(m_kinds, &QComboBox::activated, this,
            [this] { pickKind(m_kinds->currentData().toString().toStdString()); });
    page->addWidget(m_kinds);
    auto *how = new QLabel(tr("One value is the same in every run; two, as 0deg..18deg, are drawn "
                              "anew between them in each."));
    how->setProperty("small", true);
    how->setWordWrap(true);
    page->addWidget(how);
    auto *middle = new QHBoxLayout;
    middle->setSpacing(theme.space(3));
    auto *left = new QVBoxLayout;
    m_form = new KeyForm(theme, "row-", 124);
    connect(m_form, &KeyForm::edited, this, &RowDialog::renew);
    left->addWidget(m_form);
    left->addStretch(1);
    middle->addLayout(left, 3);
    m_preview = new Ends(m_ends, theme);
    middle->addWidget(m_preview, 2);
    page->addLayout(middle, 1);
    page->addWidget(makeFoot());
    resize(qRound(760 * theme.scale()), qRound(460 * theme.scale()));
    fill(from);
}

QWidget *RowDialog::makeFoot()
{
    auto *foot = new QWidget;
    auto *row = new QHBoxLayout(foot);
    row->setContentsMargins(0, 0, 0, 0);
    m_said = new QLabel;
    m_said->setObjectName("rowSaid");
    m_said->setWordWrap(true);
    m_take = new QPushButton(tr("Take it in"));
    m_take->setObjectName("rowTake");
    m_take->setDefault(true);
    auto *leave = new QPushButton(tr("Leave it"));
    connect(leave, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_take, &QPushButton::clicked, this, [this] {
        emit taken(str(text()));
        accept();
    });
    row->addWidget(m_said, 1);
    row->addWidget(m_take);
    row->addWidget(leave);
    return foot;
}

/// The fields of a kind, each with what it is at first.
void RowDialog::pickKind(const std::string &kind)
{
    m_kinds->setCurrentIndex(std::max(0, m_kinds->findData(str(kind))));
    std::vector<floor::Key> keys;
    if (const auto *g = floor::generator(kind)) {
        keys = g->keys;
        for (const auto &v : window::varied())
            if (v.name != "air") // the floor has it
                keys.push_back(v);
    } else
        for (const auto &v : window::varied())
            if (v.name == kind)
                keys.push_back(v);
    m_form->ask(keys);
    renew();
}

void RowDialog::fill(const window::Row &from)
{
    const auto known = m_kinds->findData(str(from.kind)) >= 0;
    pickKind(known ? from.kind : floor::generators().front().name);
    if (!known)
        return;
    for (const auto &f : m_form->typed())
        if (const auto set = window::typedOf(from, f.key); !set.empty())
            m_form->set(f.key, str(set));
    renew();
}

std::string RowDialog::text() const
{
    const auto kind = m_kinds->currentData().toString().toStdString();
    std::string list;
    for (const auto &f : m_form->typed()) {
        const auto typed = f.text.simplified().remove(u' ').toStdString();
        if (f.key == kind) // of the car: its range alone
            return kind + ":" + typed;
        if (typed == f.first)
            continue;
        list += (list.empty() ? "" : ",") + f.key + "=" + typed;
    }
    return list.empty() ? kind : kind + ":" + list;
}

void RowDialog::renew()
{
    const auto row = window::rowOf(text());
    const auto here = m_session.floorPiece();
    m_take->setEnabled(row.has_value());
    if (!row) {
        m_said->setText(str(row.error().text()));
        return; // the last that could be read stays in view
    }
    m_said->setText(str(window::labelOf(*row)));
    m_ends.clear();
    for (const double share : {0.0, 1.0})
        if (auto end = window::floorAt(*row, here ? *here : floor::Floor{}, share))
            if (m_ends.empty() || !(m_ends.back() == *end))
                m_ends.push_back(std::move(*end));
    m_preview->update();
}

} // namespace badger::app
