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
    p.scale(writer.width() / pageWidth, writer.height() / pageHeight);
    const Theme paper; // paper is light whatever the window looks like
    const double wide = pageWidth - 2 * margin;
    double top = margin;
    bool fits = true;
    const auto write = [&](const QString &text, const QFont &font, double gap) {
        p.setFont(font);
        p.setPen(paper.color(Tone::Ink));
        const QRectF room(margin, top, wide, pageHeight - margin - top);
        const QRectF box = p.boundingRect(room, Qt::TextWordWrap, text);
        fits = fits && box.bottom() <= pageHeight - margin + 0.5;
        p.drawText(room, Qt::TextWordWrap, text);
        top = box.bottom() + gap;
    };
    write(str(window::headline(w)), paper.text(Type::Title, true), 4);
    write(str(window::claimOf(w)), paper.text(Type::Body), 4);
    write(QObject::tr("%1 · %2 · seed %3 · %4 runs · %5")
              .arg(str(w.asked.course.program->name), str(w.asked.course.floor->name))
              .arg(w.asked.seed)
              .arg(w.runs)
              .arg(QLocale().toString(QDate::currentDate(), "d MMM yyyy")),
          paper.text(Type::Small), 10);
    WindowView view(paper);
    view.show(window, now);
    view.setFixedSize(int(wide), view.minimumSizeHint().height());
    p.save();
    p.translate(margin, top);
    view.render(&p, QPoint(), QRegion(), QWidget::DrawChildren);
    p.restore();
    top += view.height() + 8;
    for (const auto &line : windowLines(w))
        write(line, paper.text(Type::Small), 1);
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
