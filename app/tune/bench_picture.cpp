// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

namespace badger::app
{

using tune::What;

namespace
{

constexpr qreal grip = 8;

} // namespace

BenchPicture::BenchPicture(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("What was measured"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
}

QSize BenchPicture::minimumSizeHint() const
{
    return {qRound(200 * m_theme.scale()), qRound(150 * m_theme.scale())};
}

void BenchPicture::show(Content content)
{
    m_content = std::move(content);
    m_dragged.reset();
    m_ruler.reset();
    m_surfaces.reset();
    m_reflectance.reset();
    m_line.reset();
    if (m_content.record) {
        const auto &record = *m_content.record;
        if (m_content.what == What::Ruler)
            m_ruler = tune::rulerFitOf(record);
        if (m_content.what == What::Surfaces || m_content.what == What::Lamp)
            if (auto found = tune::surfacesOf(record))
                m_surfaces = *found;
        if (m_content.what == What::Reflectance)
            if (auto fit = tune::reflectanceOf(record))
                m_reflectance = *fit;
        if (m_content.what == What::Line)
            if (auto look = tune::lineOf(record))
                m_line = std::move(*look);
    }
    update();
}

QRectF BenchPicture::plane() const
{
    const qreal s = m_theme.scale();
    // What is recorded and not kept yet stands above.
    const qreal top = m_content.pending ? 112 * s : 14 * s;
    return QRectF(rect()).adjusted(58 * s, top, -16 * s, -40 * s);
}

double BenchPicture::threshold() const
{
    if (m_dragged)
        return *m_dragged;
    return m_content.record->chosen.value_or(m_surfaces ? m_surfaces->threshold : 512.0);
}

double BenchPicture::countsAt(qreal x) const
{
    const auto area = plane();
    return std::clamp(std::round((x - area.left()) / area.width() * fullScale), 0.0, fullScale);
}

void BenchPicture::paintNothing(QPainter &p, const QString &text) const
{
    p.setFont(m_theme.text(Type::Lead));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(plane(), Qt::AlignCenter | Qt::TextWordWrap, text);
}

void BenchPicture::paintPending(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto burst = tune::burstOf(*m_content.pending);
    const QRectF box(width() - 266 * s, 10 * s, 250 * s, 92 * s);
    p.setPen(QPen(m_theme.color(Tone::Ochre), 1.6 * s));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRect(box);
    const auto look = tune::lookAt(burst);
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(box.adjusted(8 * s, 4 * s, -4 * s, 0), Qt::AlignLeft | Qt::AlignTop,
               tr("recorded, not kept yet: %1").arg(burst.size()));
    if (!look.spread)
        return;
    const double low = look.spread->least;
    const double high = std::max(low + 1.0, look.spread->most);
    const auto inner = box.adjusted(8 * s, 24 * s, -8 * s, -22 * s);
    p.setPen(QPen(m_theme.color(Tone::Ink), 1.2 * s));
    const size_t step = std::max<size_t>(1, burst.size() / 200);
    for (size_t i = 0; i < burst.size(); i += step)
        if (burst[i])
            p.drawPoint(
                QPointF(inner.left() + inner.width() * static_cast<double>(i) /
                                           static_cast<double>(burst.size()),
                        inner.bottom() - inner.height() * (*burst[i] - low) / (high - low)));
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(box.adjusted(8 * s, 0, -4 * s, -4 * s), Qt::AlignLeft | Qt::AlignBottom,
               tr("median %1, jitter %2, none %3, wild %4")
                   .arg(counts(look.spread->median), QString::number(look.jitter, 'f', 1))
                   .arg(look.none)
                   .arg(look.wild));
    if (m_content.what == What::Ruler)
        paintMedians(p, burst, {box.left() - 204 * s, box.top(), 196 * s, box.height()});
}

void BenchPicture::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const bool kept =
        m_content.record && (!m_content.record->stretches.empty() || m_content.record->chosen);
    if (!kept)
        paintStep(p);
    else
        switch (m_content.what) {
        case What::Ruler:
            paintRuler(p);
            break;
        case What::NoEcho:
            paintNoEcho(p);
            break;
        case What::Surfaces:
        case What::Lamp:
            paintSurfaces(p);
            break;
        case What::Air:
            paintAir(p);
            break;
        case What::Horn:
            paintHorn(p);
            break;
        case What::Line:
            paintLine(p);
            break;
        case What::Trimmer:
            paintTrimmer(p);
            break;
        case What::Reflectance:
            paintReflectance(p);
            break;
        case What::Neutral:
            paintNeutral(p);
            break;
        case What::Turn:
            paintTurn(p);
            break;
        case What::Straightness:
            paintStraightness(p);
            break;
        case What::Speed:
            paintSpeed(p);
            break;
        }
    if (m_content.pending)
        paintPending(p);
    if (hasFocus())
        paintFocus(p, *this, m_theme);
}

void BenchPicture::mousePressEvent(QMouseEvent *event)
{
    if (m_line)
        m_draggedCar = event->position().x();
    if (!m_surfaces)
        return;
    const auto area = plane();
    const qreal x = area.left() + area.width() * threshold() / fullScale;
    if (std::abs(event->position().x() - x) < grip * m_theme.scale()) {
        m_dragged = threshold();
        update();
    }
}

void BenchPicture::mouseMoveEvent(QMouseEvent *event)
{
    if (m_line && m_draggedCar) {
        const qreal x = event->position().x();
        const double most = halfWay_m();
        m_aside_m =
            std::clamp(m_aside_m + (x - *m_draggedCar) * 2.0 * most / plane().width(), -most, most);
        m_draggedCar = x;
        return update();
    }
    if (!m_dragged)
        return;
    m_dragged = countsAt(event->position().x());
    emit thresholdMoved(*m_dragged, false);
    update();
}

void BenchPicture::mouseReleaseEvent(QMouseEvent *)
{
    m_draggedCar.reset();
    if (!m_dragged)
        return;
    const double counts = *m_dragged;
    m_dragged.reset();
    emit thresholdMoved(counts, true);
}

void BenchPicture::keyPressEvent(QKeyEvent *event)
{
    const int step = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (step != 0 && m_line) {
        m_aside_m = std::clamp(m_aside_m + step * 1e-3, -halfWay_m(), halfWay_m());
        return update();
    }
    if (step == 0 || !m_surfaces)
        return QWidget::keyPressEvent(event);
    emit thresholdMoved(std::clamp(threshold() + step, 0.0, fullScale), true);
}

} // namespace badger::app
