// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/window_sheet.h"

#include "app/floor/window_view.h"
#include "app/widgets/text.h"
#include "core/io/storage.h"
#include "core/window/words.h"

#include <QBuffer>
#include <QDate>
#include <QPainter>
#include <QPdfWriter>

namespace badger::app
{

namespace
{

/// In pixels of the screen, which the page is as many of.
constexpr double pageWidth = 1120.0;
constexpr double pageHeight = 792.0;
constexpr double margin = 40.0;

QString rowLine(const window::Window &w, const window::RowAnswer &row)
{
    QStringList parts;
    for (const auto &part : window::lineOf(w, row))
        if (!part.empty())
            parts << str(part);
    auto line = parts.join(" · ");
    if (row.row.off)
        line = QObject::tr("(switched out) ") + line;
    return line + (row.row.reason.empty() ? QString() : "  -  " + str(row.row.reason));
}

/// The page, first measured, then painted: at a scale below 1 more stands on it.
class Sheet
{
public:
    Sheet(const std::shared_ptr<const window::Window> &w, std::optional<double> now, QPainter &p)
        : m_window(*w), m_view(m_paper), m_p(p)
    {
        m_view.show(w, now);
    }

    bool fits(double pixel, double scale) { return lay(pixel, scale, false); }
    void paint(double pixel, double scale) { lay(pixel, scale, true); }

private:
    bool lay(double pixel, double scale, bool paints)
    {
        m_p.resetTransform();
        m_p.scale(pixel * scale, pixel * scale);
        const double wide = pageWidth / scale - 2 * margin;
        const double end = pageHeight / scale - margin;
        double top = margin;
        bool fits = true;
        const auto write = [&](const QString &text, const QFont &font, double gap) {
            m_p.setFont(font);
            m_p.setPen(m_paper.color(Tone::Ink));
            const QRectF room(margin, top, wide, std::max(1.0, end - top));
            const QRectF box = m_p.boundingRect(room, Qt::TextWordWrap, text);
            fits = fits && box.bottom() <= end + 0.5;
            if (paints)
                m_p.drawText(room, Qt::TextWordWrap, text);
            top = box.bottom() + gap;
        };
        const auto &w = m_window;
        write(str(window::headline(w)), m_paper.text(Type::Title, true), 4);
        write(str(window::claimOf(w)), m_paper.text(Type::Body), 4);
        write(QObject::tr("%1 · %2 · seed %3 · %4 runs · %5")
                  .arg(str(w.asked.course.program->name), str(w.asked.course.floor->name))
                  .arg(w.asked.seed)
                  .arg(w.runs)
                  .arg(QLocale().toString(QDate::currentDate(), "d MMM yyyy")),
              m_paper.text(Type::Small), 10);
        m_view.setFixedSize(int(wide), m_view.minimumSizeHint().height());
        if (paints) {
            m_p.save();
            m_p.translate(margin, top);
            m_view.render(&m_p, QPoint(), QRegion(), QWidget::DrawChildren);
            m_p.restore();
        }
        top += m_view.height() + 8;
        for (const auto &line : windowLines(w))
            write(line, m_paper.text(Type::Small), 1);
        return fits;
    }

    const window::Window &m_window;
    const Theme m_paper; ///< light whatever the window looks like
    WindowView m_view;
    QPainter &m_p;
};

} // namespace

QStringList windowLines(const window::Window &w)
{
    QStringList lines;
    for (const auto &row : w.rows) {
        lines << rowLine(w, row);
        for (const auto &say : window::helps(w, row))
            lines << "    " + str(say);
    }
    if (!w.unmeasured.empty())
        lines << QObject::tr("Not measured on this car, and drawn over what its parts allow: %1.")
                     .arg(str(joined(w.unmeasured, ", ")));
    for (const auto &say : window::narrowing(w))
        lines << str(say);
    lines << QObject::tr("Not simulated: %1.").arg(str(joined(window::notSimulated(w), "; ")));
    lines << QObject::tr("A simulated pass is no licence: a hand at the switch, fingers clear of "
                         "the wheels. The makers' sheets and the space's rules come first.");
    return lines;
}

Result<void> saveWindowPdf(const QString &path, const std::shared_ptr<const window::Window> &window,
                           std::optional<double> now)
{
    const auto &w = *window;
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageOrientation(QPageLayout::Landscape);
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setTitle(
        QObject::tr("%1: window of %2").arg(str(w.asked.course.car->name), str(w.handle.value)));
    QPainter p;
    if (!p.begin(&writer))
        return fail(Error::Kind::Storage, path.toStdString(), say("it cannot be painted"),
                    say("choose another place"));
    const double pixel = writer.width() / pageWidth;
    // Many conditions are drawn smaller, as far as they can be read.
    constexpr double smallest = 0.62;
    constexpr double finer = 0.94;
    double scale = 1.0;
    Sheet sheet(window, now, p);
    for (; scale > smallest && !sheet.fits(pixel, scale); scale *= finer)
        ;
    const bool fits = sheet.fits(pixel, scale);
    if (fits)
        sheet.paint(pixel, scale);
    p.end();
    if (!fits)
        return fail(Error::Kind::OutOfRange, say("window of '{}'", w.handle.value),
                    say("its conditions do not fit on one page"),
                    say("switch some rows out, or write every place as CSV"));
    const auto saved =
        io::saveFile(path.toStdString(), std::string_view(bytes.constData(), size_t(bytes.size())));
    return saved ? Result<void>() : tl::unexpected(saved.error());
}

} // namespace badger::app
