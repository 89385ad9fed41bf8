// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/new_floor.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/base/named.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <cmath>

namespace badger::app
{

namespace
{

/// A kind as a small picture over its name; the picked one is outlined.
class KindTile final : public QAbstractButton
{
public:
    KindTile(const floor::Generator &kind, floor::Floor sketch, const Theme &theme)
        : m_sketch(std::move(sketch)), m_theme(theme)
    {
        setText(str(kind.name));
        setObjectName("kind-" + str(kind.name));
        setAccessibleName(str(kind.name) + ": " + str(kind.what));
        setToolTip(str(kind.what));
        setCheckable(true);
        setFocusPolicy(Qt::StrongFocus);
        setFixedSize(qRound(116 * theme.scale()), qRound(88 * theme.scale()));
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const QRectF box = QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5);
        const qreal foot = 20 * m_theme.scale();
        p.setBrush(m_theme.color(Tone::Sheet));
        p.setPen(QPen(m_theme.color(isChecked() ? Tone::Ochre : Tone::Rule),
                      isChecked() ? m_theme.line() + 0.6 : 1.0));
        p.drawRoundedRect(box, 3, 3);
        paintFloorSketch(p, box.adjusted(6, 5, -6, -foot), m_sketch, m_theme);
        p.setFont(m_theme.text(Type::Small, isChecked()));
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(QRectF(box.left(), box.bottom() - foot, box.width(), foot), Qt::AlignCenter,
                   text());
        paintFocus(p, *this, m_theme);
    }

private:
    floor::Floor m_sketch;
    const Theme &m_theme;
};

/// What the numbers make, drawn anew with each.
class Preview final : public QWidget
{
public:
    Preview(const Result<floor::Floor> &floor, const Theme &theme) : m_floor(floor), m_theme(theme)
    {
        setMinimumSize(qRound(330 * theme.scale()), qRound(220 * theme.scale()));
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        if (m_floor)
            paintFloorSketch(p, QRectF(rect()).adjusted(6, 6, -6, -6), *m_floor, m_theme);
    }

private:
    const Result<floor::Floor> &m_floor;
    const Theme &m_theme;
};

} // namespace

void paintFloorSketch(QPainter &p, const QRectF &box, const floor::Floor &f, const Theme &theme)
{
    const qreal scale = std::min(box.width() / f.width_m, box.height() / f.depth_m);
    QTransform t;
    t.translate(box.center().x() - f.width_m * scale / 2, box.center().y() + f.depth_m * scale / 2);
    t.scale(scale, -scale);
    const auto at = [&](const floor::Point &q) { return t.map(QPointF(q.x_m, q.y_m)); };
    p.setBrush(theme.color(Tone::Sheet));
    p.setPen(QPen(theme.color(Tone::Rule), 1));
    p.drawRect(t.mapRect(QRectF(0, 0, f.width_m, f.depth_m)));
    if (!f.edge.empty()) {
        QPolygonF table;
        for (const auto &q : f.edge)
            table << at(q);
        p.setPen(QPen(theme.color(Tone::Ink), 2));
        p.drawPolygon(table);
    }
    p.setBrush(Qt::NoBrush);
    for (const auto &l : f.lines) {
        QPainterPath path(at(l.points.front()));
        for (const auto &q : l.points)
            path.lineTo(at(q));
        if (l.closed)
            path.closeSubpath();
        p.setPen(QPen(theme.color(Tone::Ink), std::max(1.2, l.width_m * scale)));
        p.drawPath(path);
    }
    p.setPen(QPen(theme.color(Tone::Ink), 2, Qt::SolidLine, Qt::RoundCap));
    for (const auto &w : f.walls)
        p.drawLine(at(w.from), at(w.to));
    for (const auto &m : f.movers) { // as it begins, and where it comes to stand
        const double lasts_s = m.vanishes_s ? std::min(m.ends_s, *m.vanishes_s) : m.ends_s;
        const double s = std::max(0.0, lasts_s - m.begins_s);
        const auto moved = [&](const floor::Point &q) {
            return t.map(QPointF(q.x_m + s * m.east_mps, q.y_m + s * m.north_mps));
        };
        const auto middle = [](QPointF a, QPointF b) { return (a + b) / 2.0; };
        p.setPen(QPen(theme.color(Tone::Ink), 2, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(m.from), at(m.to));
        p.setPen(QPen(theme.color(Tone::Ink2), 1.2, Qt::DashLine));
        p.drawLine(moved(m.from), moved(m.to));
        p.drawLine(middle(at(m.from), at(m.to)), middle(moved(m.from), moved(m.to)));
    }
    p.setPen(QPen(theme.color(Tone::Ink), 2, Qt::SolidLine, Qt::RoundCap));
    p.setBrush(theme.color(Tone::Ink));
    for (const auto &post : f.posts) {
        const qreal r = std::max(2.0, post.radius_m * scale);
        p.drawEllipse(at(post.at), r, r);
    }
    // The car's start: a wedge that looks where the car does.
    const double a = f.start.heading_rad;
    const QPointF nose = at(f.start.nose);
    const QPointF ahead(std::cos(a) * 9, -std::sin(a) * 9);
    const QPointF side(ahead.y() * 0.6, -ahead.x() * 0.6);
    p.setPen(Qt::NoPen);
    p.setBrush(theme.color(Tone::Ochre));
    p.drawPolygon(QPolygonF({nose, nose - ahead * 1.6 + side, nose - ahead * 1.6 - side}));
}

NewFloor::NewFloor(Session &session, const Theme &theme, QWidget *parent)
    : QDialog(parent), m_session(session), m_theme(theme)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("A new floor"));
    setObjectName("newFloor");
    auto *page = new QVBoxLayout(this);
    auto *kinds = new QGridLayout;
    kinds->setSpacing(theme.space(1));
    int n = 0;
    for (const auto &g : floor::generators()) {
        const auto sketch = floor::generate(g.name, {}, g.name);
        auto *button = new KindTile(g, *sketch, theme);
        connect(button, &QAbstractButton::clicked, this,
                [this, name = str(g.name)] { pickKind(name); });
        kinds->addWidget(button, n / 6, n % 6);
        m_kinds.push_back(button);
        ++n;
    }
    page->addLayout(kinds);
    auto *middle = new QHBoxLayout;
    auto *left = new QVBoxLayout;
    m_form = new KeyForm(theme, "key-", 84);
    connect(m_form, &KeyForm::edited, this, &NewFloor::renew);
    left->addWidget(m_form);
    left->addStretch(1);
    middle->addLayout(left, 1);
    m_preview = new Preview(m_drawn, theme);
    middle->addWidget(m_preview, 1);
    page->addLayout(middle, 1);
    m_said = new QLabel;
    m_said->setWordWrap(true);
    m_said->setObjectName("newFloorSaid");
    page->addWidget(m_said);
    auto *last = new QHBoxLayout;
    auto *called = new QLabel(tr("It is called"));
    m_name = new QLineEdit;
    m_name->setObjectName("newFloorName");
    m_make = new QPushButton(tr("Make it"));
    m_make->setObjectName("newFloorMake");
    m_make->setDefault(true);
    auto *leave = new QPushButton(tr("Leave it"));
    connect(m_make, &QPushButton::clicked, this, &NewFloor::make);
    connect(leave, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_name, &QLineEdit::textEdited, this, &NewFloor::renew);
    for (auto *w : std::initializer_list<QWidget *>{called, m_name, m_make, leave})
        last->addWidget(w, w == m_name ? 1 : 0);
    page->addLayout(last);
    pickKind(str(floor::generators().front().name));
}

void NewFloor::pickKind(const QString &name)
{
    m_kind = name.toStdString();
    const auto *g = floor::generator(m_kind);
    for (auto *b : m_kinds)
        b->setChecked(b->objectName() == "kind-" + name);
    m_form->ask(g->keys);
    if (!m_name->isModified()) {
        // A name that is free.
        QString free = str(g->what);
        free[0] = free[0].toUpper();
        for (int i = 2; m_session.workshop().floor(free.toStdString()) != nullptr; ++i)
            free = str(g->what).replace(0, 1, str(g->what).left(1).toUpper()) + " " +
                   QString::number(i);
        m_name->setText(free);
    }
    renew();
}

std::map<std::string, std::string> NewFloor::typed() const
{
    std::map<std::string, std::string> set;
    for (const auto &f : m_form->typed())
        set[f.key] = f.text.toStdString();
    return set;
}

void NewFloor::renew()
{
    const auto name = m_name->text().trimmed().toStdString();
    auto made = floor::generate(m_kind, typed(), name);
    QString said;
    if (!made)
        said = str(made.error().text());
    else if (name.empty())
        said = tr("Give it a name.");
    else if (m_session.workshop().floor(name) != nullptr)
        said = tr("There is a floor of that name already.");
    else
        said = tr("The plan is %1 by %2.")
                   .arg(str(units::quantity(made->width_m, units::Unit::Metre, 2)),
                        str(units::quantity(made->depth_m, units::Unit::Metre, 2)));
    m_make->setEnabled(made && !name.empty() && m_session.workshop().floor(name) == nullptr);
    m_said->setText(said);
    m_floor = std::move(made);
    if (m_floor)
        m_drawn = m_floor;
    m_preview->update();
}

void NewFloor::make()
{
    renew();
    if (!m_make->isEnabled())
        return;
    auto made = *m_floor;
    made.id = newId<floor::Floor>(m_session.document().ids());
    const auto id = made.id;
    if (!m_session.edit(tr("Make a floor"),
                        [&](workshop::Workshop &w) { w.floors.push_back(std::move(made)); }))
        return;
    m_session.selectFloor(id);
    accept();
}

} // namespace badger::app
