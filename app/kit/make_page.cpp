// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/make_page.h"

#include "app/document/edits.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/io/storage.h"

#include <QBuffer>
#include <QCheckBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPdfWriter>
#include <QPushButton>
#include <QScrollArea>
#include <QSvgRenderer>

namespace badger::app
{

TemplateView::TemplateView(const Theme &theme, QWidget *parent)
    : QWidget(parent), m_theme(theme), m_renderer(new QSvgRenderer(this))
{
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("The drilling template"));
}

QSize TemplateView::sizeHint() const
{
    return {qRound(300 * m_theme.scale()), qRound(380 * m_theme.scale())};
}

void TemplateView::show(const QByteArray &svg, mechanics::Page page)
{
    m_renderer->load(svg);
    m_page = page;
    update();
}

void TemplateView::paintEvent(QPaintEvent *)
{
    if (!m_renderer->isValid() || m_page.width_mm <= 0.0)
        return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const qreal scale = std::min(width() / m_page.width_mm, height() / m_page.height_mm);
    const QRectF sheet((width() - m_page.width_mm * scale) / 2, 0, m_page.width_mm * scale,
                       m_page.height_mm * scale);
    // Paper stays white in every palette: it is what comes out of the printer.
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.setBrush(Qt::white);
    p.drawRect(sheet.adjusted(0, 0, -1, -1));
    m_renderer->render(&p, sheet);
}

MakePage::MakePage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session), m_theme(theme)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme.space(4));
    auto *left = new QVBoxLayout;
    m_view = new TemplateView(theme);
    m_view->setObjectName("template");
    left->addWidget(m_view, 1);
    m_cuts = new QLabel;
    m_cuts->setProperty("small", true);
    m_cuts->setTextFormat(Qt::PlainText);
    m_cuts->setWordWrap(true);
    left->addWidget(m_cuts);
    auto *buttons = new QHBoxLayout;
    auto *pdf = new QPushButton(tr("Save the template as &PDF ..."));
    pdf->setObjectName("savePdf");
    auto *svg = new QPushButton(tr("as S&VG ..."));
    svg->setObjectName("saveSvg");
    connect(pdf, &QPushButton::clicked, this, [this] { askAndSave(true); });
    connect(svg, &QPushButton::clicked, this, [this] { askAndSave(false); });
    buttons->addWidget(pdf);
    buttons->addWidget(svg);
    buttons->addStretch(1);
    left->addLayout(buttons);
    row->addLayout(left, 5);

    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *content = new QWidget;
    m_steps = new QVBoxLayout(content);
    m_steps->setContentsMargins(0, 0, theme.space(2), 0);
    m_steps->setSpacing(theme.space(1));
    scroll->setWidget(content);
    row->addWidget(scroll, 6);
}

QString MakePage::title() const
{
    const auto *car = m_session.car();
    return car ? tr("%1, %2").arg(str(car->name), str(m_session.workshop().name)) : QString();
}

void MakePage::tick(const std::string &key, bool on)
{
    m_session.editCar(on ? tr("Tick off") : tr("Take a tick away"), [&](kit::Car &car) {
        std::erase(car.ticks, key);
        if (on)
            car.ticks.push_back(key);
    });
}

/// A tick box whose words wrap.
QWidget *MakePage::tickRow(const QString &text, const std::string &key, bool ticked)
{
    auto *row = new QWidget;
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(m_theme.space(2));
    auto *box = new QCheckBox;
    box->setObjectName(str(key));
    box->setChecked(ticked);
    box->setAccessibleName(text);
    connect(box, &QCheckBox::clicked, this, [this, key](bool on) { tick(key, on); });
    auto *words = new QLabel(text);
    words->setWordWrap(true);
    words->setProperty("small", true);
    layout->addWidget(box, 0, Qt::AlignTop);
    layout->addWidget(words, 1);
    return row;
}

void MakePage::addStep(const mechanics::BuildStep &step)
{
    auto *done = new QCheckBox(str(step.title));
    done->setObjectName("step:" + str(step.key));
    done->setChecked(step.done);
    done->setProperty("heading", true);
    // The gate: a step that cannot be undone is shut until everything before it was looked at. One
    // that is ticked already can always be unticked.
    done->setEnabled(step.done || !step.irreversible || step.open());
    connect(done, &QCheckBox::clicked, this,
            [this, key = "step:" + step.key](bool on) { tick(key, on); });
    auto *head = new QHBoxLayout;
    head->addWidget(done);
    head->addStretch(1);
    if (step.irreversible && !step.done) {
        auto *note = new QLabel(step.open() ? tr("cannot be undone: looked at, go ahead")
                                            : tr("cannot be undone: look first"));
        note->setProperty("small", true);
        head->addWidget(note);
    }
    m_steps->addLayout(head);
    const auto indented = [&](QWidget *w) {
        auto *line = new QHBoxLayout;
        line->setContentsMargins(m_theme.space(6), 0, 0, 0);
        line->addWidget(w, 1);
        m_steps->addLayout(line);
    };
    if (step.done)
        return; // what is done needs no words any more
    for (const auto &item : step.before)
        indented(tickRow(str(item.text), item.key, item.ticked));
    auto *text = new QLabel(str(step.text));
    text->setWordWrap(true);
    text->setProperty("small", true);
    indented(text);
    if (step.caution.empty())
        return;
    auto *caution = new QLabel(str(step.caution));
    caution->setWordWrap(true);
    caution->setProperty("caution", true);
    indented(caution);
}

void MakePage::addSupplies(const std::vector<mechanics::Supply> &supplies)
{
    auto *heading = new QLabel(tr("At hand"));
    heading->setProperty("heading", true);
    m_steps->addSpacing(m_theme.space(2));
    m_steps->addWidget(heading);
    for (const auto &s : supplies) {
        const auto what = s.count > 0 ? tr("%1 × %2").arg(s.count).arg(str(s.name)) : str(s.name);
        m_steps->addWidget(tickRow(tr("%1: %2").arg(what, str(s.forWhat)), s.key, s.ticked));
    }
}

void MakePage::refresh()
{
    const auto *focus = window()->focusWidget();
    const auto name = focus && isAncestorOf(focus) ? focus->objectName() : QString();
    emptyLayout(*m_steps);
    const auto *car = m_session.car();
    setEnabled(car != nullptr);
    if (car == nullptr) {
        m_view->show({}, {});
        return m_cuts->setText(tr("No car yet: its template is drawn here once there is one."));
    }
    const auto &catalogue = m_session.catalogue();
    const auto t = mechanics::templateOf({*car, catalogue});
    m_view->show(QByteArray::fromStdString(mechanics::templateSvg(t, title().toStdString())),
                 mechanics::pageOf(t));
    QStringList cuts;
    for (const auto &c : t.cuts)
        cuts << (c.count > 1 ? tr("%1 × ").arg(c.count) : QString()) + str(c.what) + ": " +
                    str(c.size);
    m_cuts->setText(cuts.join(" · "));
    for (const auto &step : mechanics::buildSteps({*car, catalogue}))
        addStep(step);
    addSupplies(mechanics::fastenerList({*car, catalogue}));
    m_steps->addStretch(1);
    if (!name.isEmpty())
        for (auto *w : findChildren<QWidget *>(name))
            if (w->isVisibleTo(this))
                w->setFocus();
}

void MakePage::reveal(const QString &step)
{
    if (auto *box = findChild<QWidget *>("step:" + step))
        box->setFocus();
}

Result<void> MakePage::saveSvg(const QString &path) const
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return fail(Error::Kind::Missing, "template", "no car is picked", "pick one");
    const auto t = mechanics::templateOf({*car, m_session.catalogue()});
    const auto saved =
        io::saveFile(path.toStdString(), mechanics::templateSvg(t, title().toStdString()));
    return saved ? Result<void>() : tl::unexpected(saved.error());
}

Result<void> MakePage::savePdf(const QString &path) const
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return fail(Error::Kind::Missing, "template", "no car is picked", "pick one");
    const auto t = mechanics::templateOf({*car, m_session.catalogue()});
    const auto page = mechanics::pageOf(t);
    QSvgRenderer renderer(
        QByteArray::fromStdString(mechanics::templateSvg(t, title().toStdString())));
    if (!renderer.isValid())
        return fail(Error::Kind::Malformed, "template", "its drawing could not be read back",
                    "save it as SVG and look at it");
    // The smallest usual sheet that holds it; beyond that, a sheet of its own size.
    QPageSize sheet(QSizeF(page.width_mm, page.height_mm), QPageSize::Millimeter);
    for (const auto id : {QPageSize::A4, QPageSize::A3}) {
        const auto size = QPageSize::size(id, QPageSize::Millimeter);
        if (page.width_mm <= size.width() && page.height_mm <= size.height()) {
            sheet = QPageSize(id);
            break;
        }
    }
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    constexpr int dotsPerInch = 1200;
    constexpr double mmPerInch = 25.4;
    writer.setResolution(dotsPerInch);
    writer.setPageSize(sheet);
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setTitle(title());
    QPainter p;
    if (!p.begin(&writer))
        return fail(Error::Kind::Storage, path.toStdString(), "the PDF cannot be written",
                    "choose a folder you may write to");
    const double dots = dotsPerInch / mmPerInch;
    renderer.render(&p, QRectF(0, 0, page.width_mm * dots, page.height_mm * dots));
    if (!p.end())
        return fail(Error::Kind::Storage, path.toStdString(), "the PDF was not finished",
                    "look for room in the memory");
    // Written like every other file: whole, or not at all and said.
    const auto saved = io::saveFile(path.toStdString(), bytes.toStdString());
    return saved ? Result<void>() : tl::unexpected(saved.error());
}

void MakePage::askAndSave(bool pdf)
{
    const auto path = QFileDialog::getSaveFileName(this, tr("Save the template"),
                                                   m_session.carName().toLower().replace(' ', '-') +
                                                       (pdf ? ".pdf" : ".svg"),
                                                   pdf ? tr("PDF (*.pdf)") : tr("SVG (*.svg)"));
    if (path.isEmpty())
        return;
    const auto ok = pdf ? savePdf(path) : saveSvg(path);
    if (ok)
        emit m_session.said(
            tr("Saved to %1. Print it at 100 % and measure its 100 mm line.").arg(path), false);
    else
        emit m_session.said(str(ok.error().text()), true);
}

} // namespace badger::app
