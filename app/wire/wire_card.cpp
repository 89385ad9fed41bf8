// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/wire_card.h"

#include "app/widgets/text.h"
#include "app/wire/harness_view.h"
#include "core/base/medium.h"
#include "core/firstpower/walk.h"
#include "core/io/storage.h"
#include "core/revisions/history.h"
#include "core/wiring/check.h"

#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgGenerator>

namespace badger::app
{

namespace
{

constexpr int dotsPerMm = 10;
constexpr qreal margin = 100; ///< ten millimetres
constexpr qreal gutter = 40;

/// Paper is white whatever the window looks like.
const Theme &paper()
{
    static const Theme theme;
    return theme;
}

class Card
{
public:
    Card(QPainter &p, QSizeF dots, const CardContent &content, int textDots)
        : m_p(p), m_page(QRectF(QPointF(0, 0), dots).adjusted(margin, margin, -margin, -margin)),
          m_content(content), m_text(textDots), m_y(m_page.top())
    {
    }

    bool paint()
    {
        head();
        harness();
        wires();
        walk();
        cautions();
        return m_y <= m_page.bottom();
    }

private:
    void use(int size, bool bold = false)
    {
        auto font = paper().text(Type::Body, bold);
        font.setPixelSize(size);
        m_p.setFont(font);
        m_p.setPen(Qt::black);
    }

    void heading(const QString &text)
    {
        use(qRound(m_text * 1.15), true);
        m_y += m_text * 0.5;
        m_p.drawText(QRectF(m_page.left(), m_y, m_page.width(), m_text * 1.7), Qt::AlignVCenter,
                     text);
        m_y += m_text * 1.7;
        m_p.setPen(QPen(Qt::black, 2));
        m_p.drawLine(QPointF(m_page.left(), m_y), QPointF(m_page.right(), m_y));
        m_y += m_text * 0.3;
    }

    void head()
    {
        use(qRound(m_text * 1.9), true);
        m_p.drawText(QRectF(m_page.left(), m_y, m_page.width(), m_text * 2.6), Qt::AlignVCenter,
                     QObject::tr("%1: wiring card").arg(str(m_content.car.name)));
        use(m_text);
        const auto *last = revisions::latest(m_content.car);
        const auto date = last ? str(last->date) : QString();
        m_p.drawText(QRectF(m_page.left(), m_y, m_page.width(), m_text * 2.6),
                     Qt::AlignVCenter | Qt::AlignRight,
                     QObject::tr("%1 · %2 · wiring revision %3%4")
                         .arg(m_content.workshop, str(m_content.car.team),
                              QString::number(m_content.car.wiringRevision),
                              revisions::isOpen(m_content.car) ? QObject::tr(", open")
                              : date.isEmpty()                 ? QString()
                                                               : " · " + date));
        m_y += m_text * 2.8;
    }

    void harness()
    {
        HarnessView view(paper());
        view.show(m_content.car, m_content.catalogue,
                  wiring::check({m_content.car, m_content.catalogue}).findings);
        constexpr qreal share = 0.46; // of the page at most
        const qreal height = m_page.height() * share;
        m_p.save();
        m_p.translate(m_page.left(), m_y);
        const auto used = view.paintPlain(m_p, {m_page.width(), height});
        m_p.restore();
        m_y += used.height() + m_text * 0.5;
    }

    /// Rows in columns, filled downwards; each row is drawn by `draw(row, box)`.
    template <class Draw> void columns(int rows, int columnCount, Draw draw)
    {
        const int perColumn = (rows + columnCount - 1) / std::max(1, columnCount);
        const qreal height = m_text * 1.4;
        const qreal width = (m_page.width() - gutter * (columnCount - 1)) / columnCount;
        for (int i = 0; i < rows; ++i) {
            const int column = i / std::max(1, perColumn);
            draw(i, QRectF(m_page.left() + column * (width + gutter),
                           m_y + (i % std::max(1, perColumn)) * height, width, height));
        }
        m_y += perColumn * height;
    }

    void fitted(const QRectF &box, const QString &text, int align = Qt::AlignLeft)
    {
        m_p.drawText(box, align | Qt::AlignVCenter,
                     m_p.fontMetrics().elidedText(text, Qt::ElideRight, int(box.width())));
    }

    void tick(const QRectF &box)
    {
        m_p.setPen(QPen(Qt::black, 2));
        m_p.setBrush(Qt::NoBrush);
        m_p.drawRect(
            QRectF(box.left(), box.center().y() - m_text * 0.4, m_text * 0.8, m_text * 0.8));
    }

    void wires()
    {
        heading(QObject::tr("Wires, in the order for the hand"));
        use(m_text);
        const nets::Nets nets({m_content.car, m_content.catalogue});
        const auto steps =
            revisions::handOrder(revisions::between({}, revisions::buildOf(m_content.car)), nets);
        columns(int(steps.size()), 3, [&](int i, const QRectF &box) {
            const auto &s = steps[size_t(i)];
            tick(box);
            use(m_text);
            const qreal w = box.width() - m_text * 1.2;
            const qreal x = box.left() + m_text * 1.2;
            const auto text =
                s.act == revisions::HandStep::Act::JumperOn
                    ? str(s.text)
                    : str(s.wire.from) + " – " + str(s.wire.to) + ", " + str(s.wire.colour);
            fitted(QRectF(x, box.top(), w, box.height()), text);
        });
    }

    void walk()
    {
        const auto steps = firstpower::walk({m_content.car, m_content.catalogue});
        if (steps.empty())
            return;
        heading(QObject::tr("First power: expected, and as read"));
        use(m_text);
        columns(int(steps.size()), 2, [&](int i, const QRectF &box) {
            const auto &s = steps[size_t(i)];
            tick(box);
            use(m_text);
            const qreal w = box.width();
            fitted(QRectF(box.left() + m_text * 1.2, box.top(), w * 0.58, box.height()),
                   str(s.title));
            if (s.expected.empty())
                return;
            fitted(QRectF(box.left() + w * 0.65, box.top(), w * 0.24, box.height()),
                   str(s.expected));
            m_p.setPen(QPen(Qt::black, 1, Qt::DotLine));
            m_p.drawLine(QPointF(box.left() + w * 0.90, box.bottom() - m_text * 0.2),
                         QPointF(box.right(), box.bottom() - m_text * 0.2));
        });
    }

    void cautions()
    {
        heading(QObject::tr("Cautions"));
        use(m_text);
        const auto text = QObject::tr(
            "Power off and cells out before a wire is moved. Polarity before the last wire; "
            "grounds "
            "and battery are joined last. One supply at a time. Wheels off the ground at first "
            "power: fingers, hair and cords away; a held wheel for seconds only. Drivers and "
            "regulators get hot and may cut out and start again by themselves. Over-voltage burns "
            "servos and 5 V modules; never 5 V into a 3.3 V pin. Cells out for storage. Do not "
            "stare "
            "into infrared emitters. Follow the makers' sheets, the space's rules and local codes; "
            "mains work, pack building and charging installations are for qualified people.");
        QRectF used;
        m_p.drawText(QRectF(m_page.left(), m_y, m_page.width(), 4000),
                     Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, text, &used);
        m_y = used.bottom();
    }

    QPainter &m_p;
    QRectF m_page;
    const CardContent &m_content;
    int m_text;
    qreal m_y;
};

/// The largest text with which everything fits, in dots; 0 where none does. 3.2 mm down to 1.6 mm.
int textThatFits(QSizeF dots, const CardContent &content)
{
    for (int text = 32; text >= 16; --text) {
        QPixmap nowhere(1, 1);
        QPainter p(&nowhere);
        if (Card(p, dots, content, text).paint())
            return text;
    }
    return 0;
}

/// The generator writes the title as it is, markup and all.
QString svgTitle(const QString &title)
{
    return str(medium::xml(title.toStdString()));
}

Result<void> unwritten(const QString &path)
{
    return fail(Error::Kind::Storage, path.toStdString(), "the file cannot be written",
                "choose a folder you may write to");
}

Result<void> save(const QString &path, const QByteArray &bytes)
{
    const auto saved = io::saveFile(path.toStdString(), bytes.toStdString());
    return saved ? Result<void>() : tl::unexpected(saved.error());
}

} // namespace

bool paintCard(QPainter &painter, QSizeF dots, const CardContent &content)
{
    const int text = textThatFits(dots, content);
    return text > 0 && Card(painter, dots, content, text).paint();
}

Result<void> saveCardPdf(const QString &path, const CardContent &content)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    constexpr double mmPerInch = 25.4;
    writer.setResolution(qRound(dotsPerMm * mmPerInch));
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setTitle(QObject::tr("%1: wiring card").arg(str(content.car.name)));
    QPainter p;
    if (!p.begin(&writer))
        return unwritten(path);
    const bool fits = paintCard(p, {double(writer.width()), double(writer.height())}, content);
    p.end();
    if (!fits)
        return fail(Error::Kind::OutOfRange, "car '" + content.car.name + "'",
                    "its wires do not fit on one page in a size that can be read",
                    "save the wire list as CSV and the harness as SVG instead");
    return save(path, bytes);
}

Result<void> saveHarnessSvg(const QString &path, const CardContent &content)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    HarnessView view(paper());
    view.show(content.car, content.catalogue,
              wiring::check({content.car, content.catalogue}).findings);
    QSvgGenerator svg;
    svg.setOutputDevice(&buffer);
    const auto size = view.plainSize();
    svg.setSize(size.toSize());
    svg.setViewBox(QRectF(QPointF(0, 0), size));
    svg.setTitle(svgTitle(QObject::tr("%1: harness").arg(str(content.car.name))));
    QPainter p;
    if (!p.begin(&svg))
        return unwritten(path);
    view.paintPlain(p, size);
    p.end();
    // The generator writes entities for markup, but control characters as they are: XML has none.
    return save(path, QByteArray::fromStdString(medium::terminal(bytes.toStdString())));
}

} // namespace badger::app
