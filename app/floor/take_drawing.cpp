// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/take_drawing.h"

#include "app/floor/new_floor.h"
#include "app/widgets/text.h"
#include "core/arena/arena.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>

namespace badger::app
{

namespace
{

/// A colour as it is in the drawing.
class Swatch final : public QWidget
{
public:
    Swatch(const QString &colour, const Theme &theme) : m_colour(colour), m_theme(theme)
    {
        setFixedSize(qRound(22 * theme.scale()), qRound(16 * theme.scale()));
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        p.setPen(m_theme.color(Tone::Ink2));
        p.setBrush(m_colour);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }

private:
    QColor m_colour;
    const Theme &m_theme;
};

/// On the left the drawing in its own colours, on the right what it makes.
class Both final : public QWidget
{
public:
    Both(const drawing::Drawing &drawing, const Result<floor::FromDrawing> &taken,
         const Theme &theme)
        : m_drawing(drawing), m_taken(taken), m_theme(theme)
    {
        setMinimumSize(qRound(560 * theme.scale()), qRound(250 * theme.scale()));
        setObjectName("drawingPreview");
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const QRectF left(6, 6, width() / 2.0 - 12, height() - 12);
        const auto right = left.translated(width() / 2.0, 0);
        paintDrawing(p, left);
        if (m_taken)
            paintFloorSketch(p, right, m_taken->floor, m_theme);
    }

private:
    void paintDrawing(QPainter &p, const QRectF &box) const
    {
        const auto &d = m_drawing;
        const QRectF frame(QPointF(d.low.x, d.low.y), QPointF(d.high.x, d.high.y));
        const qreal scale = std::min(box.width() / frame.width(), box.height() / frame.height());
        QTransform t;
        t.translate(box.center().x(), box.center().y());
        t.scale(scale, scale);
        t.translate(-frame.center().x(), -frame.center().y());
        p.setPen(QPen(m_theme.color(Tone::Rule), 1));
        p.setBrush(Qt::white); // a drawing's paper
        p.drawRect(t.mapRect(frame));
        p.save();
        p.setClipRect(t.mapRect(frame));
        for (const auto &s : d.shapes) {
            QPainterPath path;
            const auto at = [&](const drawing::Place &q) { return t.map(QPointF(q.x, q.y)); };
            if (s.radius > 0) {
                path.addEllipse(at(s.points.front()), s.radius * scale, s.radius * scale);
            } else {
                path.moveTo(at(s.points.front()));
                for (const auto &q : s.points)
                    path.lineTo(at(q));
                if (s.closed)
                    path.closeSubpath();
            }
            p.setBrush(s.fill.empty() ? QBrush(Qt::NoBrush) : QBrush(QColor(str(s.fill))));
            p.setPen(s.stroke.empty()
                         ? QPen(Qt::NoPen)
                         : QPen(QColor(str(s.stroke)), std::max(1.0, s.strokeWidth * scale)));
            p.drawPath(path);
        }
        p.restore();
    }

    const drawing::Drawing &m_drawing;
    const Result<floor::FromDrawing> &m_taken;
    const Theme &m_theme;
};

} // namespace

void takeFloor(Session &session, floor::Floor floor)
{
    const auto first = floor.name;
    for (int i = 2; session.workshop().floor(floor.name) != nullptr; ++i)
        floor.name = first + " " + std::to_string(i);
    floor.id = newId<floor::Floor>(session.document().ids());
    const auto id = floor.id;
    if (session.edit(QObject::tr("Read a floor"),
                     [&](workshop::Workshop &w) { w.floors.push_back(std::move(floor)); }))
        session.selectFloor(id);
}

TakeDrawing::TakeDrawing(Session &session, const Theme &theme, drawing::Drawing drawing,
                         const QString &name, QWidget *parent)
    : QDialog(parent), m_session(session), m_theme(theme), m_drawing(std::move(drawing)),
      m_colours(drawing::coloursOf(m_drawing))
{
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("takeDrawing");
    setWindowTitle(tr("A floor from a drawing"));
    auto *page = new QVBoxLayout(this);
    m_preview = new Both(m_drawing, m_taken, theme);
    page->addWidget(m_preview, 1);
    page->addWidget(makeColours());
    auto *numbers = new QHBoxLayout;
    const auto own = floor::takingOf(m_drawing);
    numbers->addWidget(new QLabel(tr("Units of the drawing a centimetre")));
    m_scale = new QLineEdit;
    m_scale->setObjectName("drawingScale");
    m_scale->setFixedWidth(qRound(90 * theme.scale()));
    if (own.unitsPerCm)
        m_scale->setText(QString::number(*own.unitsPerCm, 'g', 6));
    numbers->addWidget(m_scale);
    numbers->addStretch(1);
    page->addLayout(numbers);
    m_said = new QLabel;
    m_said->setObjectName("drawingSaid");
    m_said->setWordWrap(true);
    m_said->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    m_said->setMinimumHeight(3 * m_said->fontMetrics().lineSpacing());
    page->addWidget(m_said);
    auto *last = new QHBoxLayout;
    last->addWidget(new QLabel(tr("It is called")));
    m_name = new QLineEdit(name);
    m_name->setObjectName("drawingName");
    last->addWidget(m_name, 1);
    m_take = new QPushButton(tr("Take it"));
    m_take->setObjectName("drawingTake");
    m_take->setDefault(true);
    auto *leave = new QPushButton(tr("Leave it"));
    last->addWidget(m_take);
    last->addWidget(leave);
    page->addLayout(last);
    connect(m_scale, &QLineEdit::textEdited, this, &TakeDrawing::renew);
    connect(m_name, &QLineEdit::textEdited, this, &TakeDrawing::renew);
    connect(m_take, &QPushButton::clicked, this, &TakeDrawing::take);
    connect(leave, &QPushButton::clicked, this, &QDialog::reject);
    renew();
}

QWidget *TakeDrawing::makeColours()
{
    const auto own = floor::takingOf(m_drawing);
    auto *holder = new QWidget;
    auto *grid = new QGridLayout(holder);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(m_theme.space(2));
    int row = 0;
    for (const auto &c : m_colours) {
        auto *box = new QComboBox;
        box->setObjectName("meaning-" + str(c.colour));
        box->setAccessibleName(tr("What %1 is").arg(str(c.colour)));
        box->addItem(tr("left out"), QString());
        for (const auto &m : floor::meanings()) {
            box->addItem(str(m.word), str(m.word));
            box->setItemData(box->count() - 1, str(m.what), Qt::ToolTipRole);
            const auto at = own.colours.find(m.word);
            if (at != own.colours.end() && at->second == c.colour)
                box->setCurrentIndex(box->count() - 1);
        }
        connect(box, &QComboBox::activated, this, &TakeDrawing::renew);
        m_meanings.push_back(box);
        auto *counts = new QLabel(c.outlines > 0 && c.filled > 0
                                      ? tr("%1 outlined, %2 filled").arg(c.outlines).arg(c.filled)
                                  : c.filled > 0 ? tr("%1 filled").arg(c.filled)
                                                 : tr("%1 outlined").arg(c.outlines));
        counts->setProperty("small", true);
        // Two colours a row, so that a drawing of many stays on the screen.
        const int column = row % 2 * 4;
        grid->addWidget(new Swatch(str(c.colour), m_theme), row / 2, column);
        grid->addWidget(box, row / 2, column + 1);
        grid->addWidget(counts, row / 2, column + 2);
        ++row;
    }
    grid->setColumnStretch(3, 1);
    grid->setColumnStretch(7, 1);
    if (m_colours.size() <= 12)
        return holder;
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setWidget(holder);
    scroll->setMaximumHeight(qRound(220 * m_theme.scale()));
    return scroll;
}

void TakeDrawing::renew()
{
    auto taking = floor::takingOf(m_drawing);
    taking.colours.clear();
    for (size_t i = 0; i < m_colours.size(); ++i) {
        const auto word = m_meanings[i]->currentData().toString().toStdString();
        if (word.empty())
            continue;
        auto &list = taking.colours[word];
        list += (list.empty() ? "" : " ") + m_colours[i].colour;
    }
    bool isNumber = false;
    const double scale = QLocale().toDouble(m_scale->text().trimmed(), &isNumber);
    taking.unitsPerCm = isNumber && scale > 0 ? std::optional(scale) : std::nullopt;
    if (!isNumber)
        m_drawing.unitsPerCm.reset(); // it is said here, or nowhere
    const auto name = m_name->text().trimmed().toStdString();
    m_taken = floor::fromDrawing(m_drawing, taking, name);
    if (m_taken)
        if (const auto drives = arena::compile(m_taken->floor); !drives)
            m_taken = tl::unexpected(drives.error());
    QString said;
    const bool free = !name.empty() && m_session.workshop().floor(name) == nullptr;
    if (!m_taken) {
        const auto &e = m_taken.error();
        said = taking.colours.empty() ? tr("Say which colour is a wall and which a line.")
               : !taking.unitsPerCm   ? tr("Say how many of its units are a centimetre.")
                                      : str(e.text());
    } else {
        const auto &f = m_taken->floor;
        said = str(say("{0} by {1}: {2} {2|wall|walls}, {3} {3|post|posts}, {4} {4|line|lines}.",
                       units::quantity(f.width_m, units::Unit::Metre, 2),
                       units::quantity(f.depth_m, units::Unit::Metre, 2), f.walls.size(),
                       f.posts.size(), f.lines.size()));
        for (const auto &s : m_taken->said)
            said += " " + str(capitalised(s)) + ".";
        if (!free)
            said += " " + (name.empty() ? tr("Give it a name.")
                                        : tr("There is a floor of that name already."));
    }
    m_said->setText(said);
    m_take->setEnabled(m_taken && free);
    m_preview->update();
}

void TakeDrawing::take()
{
    renew();
    if (!m_take->isEnabled())
        return;
    takeFloor(m_session, m_taken->floor);
    accept();
}

} // namespace badger::app
