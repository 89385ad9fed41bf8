// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/mat_sheets.h"

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/io/storage.h"

#include <QBuffer>
#include <QImage>
#include <QObject>
#include <QPainter>
#include <QPainterPath>
#include <QPdfWriter>
#include <cmath>

namespace badger::app
{

namespace
{

constexpr double dotsPerMm = 10.0;
constexpr double margin_mm = 12.0; ///< that printers leave white
constexpr double overlap_mm = 10.0;
constexpr int mostSheets = 200;

/// Everything at its own size, in millimetres, y down from the plan's top left.
void paintMat(QPainter &p, const floor::Floor &f)
{
    const auto at = [&](const floor::Point &q) {
        return QPointF(q.x_m * 1000.0, (f.depth_m - q.y_m) * 1000.0);
    };
    const auto way = [&](const std::vector<floor::Point> &points, bool closed) {
        QPainterPath path(at(points.front()));
        for (const auto &q : points)
            path.lineTo(at(q));
        if (closed)
            path.closeSubpath();
        return path;
    };
    p.setBrush(Qt::NoBrush);
    for (const auto &l : f.lines) {
        const auto path = way(l.points, l.closed);
        if (!l.light) {
            p.setPen(
                QPen(Qt::black, l.width_m * 1000.0, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
            p.drawPath(path);
            continue;
        }
        // A light line is for dark paper or tape: its two sides are drawn.
        QPainterPathStroker stroker;
        stroker.setWidth(l.width_m * 1000.0);
        stroker.setJoinStyle(Qt::RoundJoin);
        stroker.setCapStyle(Qt::FlatCap);
        p.setPen(QPen(Qt::darkGray, 0.4, Qt::DashLine));
        p.drawPath(stroker.createStroke(path).simplified());
    }
    p.setPen(QPen(Qt::black, 0.6));
    if (!f.edge.empty())
        p.drawPath(way(f.edge, true));
    for (const auto &w : f.walls)
        p.drawLine(at(w.from), at(w.to));
    for (const auto &post : f.posts)
        p.drawEllipse(at(post.at), post.radius_m * 1000.0, post.radius_m * 1000.0);
    // The start: a cross at the nose and an arrow behind it.
    const auto nose = at(f.start.nose);
    const QPointF ahead(std::cos(f.start.heading_rad), -std::sin(f.start.heading_rad));
    const QPointF side(-ahead.y(), ahead.x());
    p.setPen(QPen(Qt::darkGray, 0.6));
    p.drawLine(nose - 80 * ahead, nose);
    p.drawLine(nose, nose - 10 * ahead + 5 * side);
    p.drawLine(nose, nose - 10 * ahead - 5 * side);
    p.drawLine(nose - 15 * side, nose + 15 * side);
}

/// Is anything drawn in a part of the plan?
class Ink
{
public:
    explicit Ink(const floor::Floor &f)
    {
        m_scale = std::min(1.0, 2000.0 / (1000.0 * std::max(f.width_m, f.depth_m)));
        m_image = QImage(int(std::ceil(f.width_m * 1000.0 * m_scale)),
                         int(std::ceil(f.depth_m * 1000.0 * m_scale)), QImage::Format_Grayscale8);
        m_image.fill(Qt::white);
        QPainter p(&m_image);
        p.setRenderHint(QPainter::Antialiasing);
        p.scale(m_scale, m_scale);
        paintMat(p, f);
    }
    bool isIn(const QRectF &mm) const
    {
        const QRect px = QRectF(mm.topLeft() * m_scale, mm.size() * m_scale)
                             .toAlignedRect()
                             .intersected(m_image.rect());
        for (int y = px.top(); y <= px.bottom(); ++y) {
            const auto *line = m_image.constScanLine(y);
            for (int x = px.left(); x <= px.right(); ++x)
                if (line[x] < 250)
                    return true;
        }
        return false;
    }

private:
    double m_scale = 1.0;
    QImage m_image;
};

/// Where a sheet's overlap begins: its neighbour's edge lies on this line.
void paintMarks(QPainter &p, const QRectF &sheet)
{
    p.setPen(QPen(Qt::gray, 0.2, Qt::DotLine));
    p.drawRect(sheet);
    p.drawLine(QPointF(sheet.right() - overlap_mm, sheet.top()),
               QPointF(sheet.right() - overlap_mm, sheet.bottom()));
    p.drawLine(QPointF(sheet.left(), sheet.bottom() - overlap_mm),
               QPointF(sheet.right(), sheet.bottom() - overlap_mm));
}

} // namespace

Result<int> saveMatPdf(const QString &path, const floor::Floor &floor, QPageSize::PageSizeId paper)
{
    const QPageSize size(paper);
    const QSizeF page_mm = size.size(QPageSize::Millimeter);
    const QSizeF area(page_mm.width() - 2 * margin_mm, page_mm.height() - 2 * margin_mm);
    const double right = area.width() - overlap_mm, down = area.height() - overlap_mm;
    const int columns = std::max(1, int(std::ceil((floor.width_m * 1000.0 - overlap_mm) / right)));
    const int rows = std::max(1, int(std::ceil((floor.depth_m * 1000.0 - overlap_mm) / down)));
    const auto refuse = [&](Say what, Say mend) {
        return fail(Error::Kind::OutOfRange, "floor '" + floor.name + "'", std::move(what),
                    std::move(mend));
    };
    const Ink ink(floor);
    std::vector<std::pair<int, int>> sheets;
    for (int row = 0; row < rows && sheets.size() <= mostSheets; ++row)
        for (int column = 0; column < columns; ++column)
            if (ink.isIn({column * right, row * down, area.width(), area.height()}))
                sheets.emplace_back(row, column);
    if (sheets.empty())
        return refuse(say("nothing is drawn on it"), say("draw a line or a wall first"));
    if (sheets.size() > mostSheets)
        return refuse(say("it takes more than {} sheets", mostSheets),
                      say("print a smaller mat, or save it as SVG for a print shop"));
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setResolution(qRound(dotsPerMm * 25.4));
    writer.setPageSize(size);
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setTitle(QObject::tr("%1 at 1:1").arg(str(floor.name)));
    QPainter p;
    if (!p.begin(&writer))
        return fail(Error::Kind::Storage, path.toStdString(), say("it cannot be painted"),
                    say("choose another place"));
    const double perMm = writer.logicalDpiX() / 25.4;
    const Theme theme;
    auto font = theme.text();
    for (size_t i = 0; i < sheets.size(); ++i) {
        if (i > 0)
            writer.newPage();
        const auto [row, column] = sheets[i];
        p.save();
        p.scale(perMm, perMm);
        p.translate(margin_mm, margin_mm);
        const QRectF area_mm(QPointF(0, 0), area);
        p.save();
        p.setClipRect(area_mm);
        p.translate(-column * right, -row * down);
        paintMat(p, floor);
        p.restore();
        paintMarks(p, area_mm);
        font.setPixelSize(4); // millimetres here
        p.setFont(font);
        p.setPen(Qt::black);
        p.drawText(QRectF(0, area.height() + 1, area.width(), 6), Qt::AlignLeft,
                   QObject::tr("%1 · row %2 of %3, column %4 of %5 · sheet %6 of %7")
                       .arg(str(floor.name))
                       .arg(row + 1)
                       .arg(rows)
                       .arg(column + 1)
                       .arg(columns)
                       .arg(i + 1)
                       .arg(sheets.size()));
        if (i == 0) {
            p.setPen(QPen(Qt::black, 0.4));
            const double y = -4;
            p.drawLine(QPointF(0, y), QPointF(100, y));
            for (const double x : {0.0, 100.0})
                p.drawLine(QPointF(x, y - 2), QPointF(x, y + 2));
            p.drawText(QRectF(103, y - 3, area.width() - 103, 6), Qt::AlignLeft | Qt::AlignVCenter,
                       QObject::tr("This bar is 10 cm. If not: print at 100 %."));
        }
        p.restore();
    }
    p.end();
    const auto saved =
        io::saveFile(path.toStdString(), std::string_view(bytes.constData(), size_t(bytes.size())));
    if (!saved)
        return tl::unexpected(saved.error());
    return int(sheets.size());
}

} // namespace badger::app
