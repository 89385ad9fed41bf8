// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/time_strip.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/world/words.h"

#include <QEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace badger::app
{

TimeStrip::TimeStrip(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    setAccessibleName(tr("Time strip"));
}

QSize TimeStrip::sizeHint() const
{
    return {400, qRound(168 * m_theme.scale())};
}

QSize TimeStrip::minimumSizeHint() const
{
    return {200, qRound(96 * m_theme.scale())};
}

/// Where there is little height, the readings have it.
bool TimeStrip::showsWheels() const
{
    return height() >= qRound(124 * m_theme.scale());
}

void TimeStrip::show(ShownRun run)
{
    m_run = std::move(run);
    m_picture = {};
    update();
}

void TimeStrip::clear()
{
    m_run = {};
    m_picture = {};
    update();
}

void TimeStrip::setTime(std::uint64_t time_us)
{
    m_time_us = time_us;
    update();
}

void TimeStrip::resizeEvent(QResizeEvent *)
{
    m_picture = {};
}

void TimeStrip::changeEvent(QEvent *event)
{
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::StyleChange)
        m_picture = {};
    QWidget::changeEvent(event);
}

int TimeStrip::pingAt(std::uint64_t time_us) const
{
    if (!m_run)
        return -1;
    const auto &pings = m_run.trace().pings;
    const auto after =
        std::upper_bound(pings.begin(), pings.end(), time_us,
                         [](std::uint64_t t, const world::Ping &p) { return t < p.sent_us; });
    return static_cast<int>(after - pings.begin()) - 1;
}

int TimeStrip::modeAt(std::uint64_t time_us) const
{
    if (!m_run)
        return -1;
    const auto &steps = m_run.trace().steps;
    const auto after =
        std::upper_bound(steps.begin(), steps.end(), time_us,
                         [](std::uint64_t t, const world::Step &s) { return t < s.time_us; });
    return after == steps.begin() ? -1 : std::prev(after)->mind.mode;
}

QRectF TimeStrip::area() const
{
    const qreal s = m_theme.scale();
    return QRectF(rect()).adjusted(60 * s, 2 * s, -12 * s, -20 * s);
}

QRectF TimeStrip::bandRow() const
{
    const auto a = area();
    return {a.left(), a.top(), a.width(), 20 * m_theme.scale()};
}

QRectF TimeStrip::wheelRow(int wheel) const
{
    const auto a = area();
    const qreal h = 18 * m_theme.scale();
    return {a.left(), a.bottom() - (2 - wheel) * h + 2, a.width(), h - 4};
}

QRectF TimeStrip::readingRow() const
{
    const qreal gap = 8 * m_theme.scale();
    return {
        QPointF(area().left(), bandRow().bottom() + gap),
        QPointF(area().right(), showsWheels() ? wheelRow(0).top() - gap : area().bottom() - gap)};
}

qreal TimeStrip::x(std::uint64_t time_us) const
{
    const auto a = area();
    const double end = std::max<double>(1.0, double(m_run.end_us()));
    return a.left() + a.width() * std::min(1.0, double(time_us) / end);
}

void TimeStrip::paintStates(QPainter &p) const
{
    const auto row = bandRow();
    const auto &trace = m_run.trace();
    const auto &program = m_run.plan().on->program();
    p.setFont(m_theme.text(Type::Small));
    p.fillRect(row, m_theme.color(Tone::Stand));
    for (size_t i = 0; i < trace.steps.size(); ++i) {
        const auto &state = program.states[static_cast<size_t>(trace.steps[i].mind.mode)];
        const qreal from = x(trace.steps[i].time_us);
        const qreal to = i + 1 < trace.steps.size() ? x(trace.steps[i + 1].time_us) : row.right();
        const QRectF part(from, row.top(), std::max(0.6, to - from), row.height());
        p.fillRect(part, m_theme.color(rules::actOf(state.motion)));
        const auto word = str(state.name);
        if (p.fontMetrics().horizontalAdvance(word) + 8 < part.width()) {
            p.setPen(m_theme.color(Tone::Ink));
            p.drawText(part, Qt::AlignCenter, word);
        }
    }
    p.setPen(QPen(m_theme.color(Tone::Brick), 1.8));
    for (const auto &touch : trace.touches) {
        const QPointF at(x(touch.time_us), row.center().y());
        p.fillRect(QRectF(at.x(), row.bottom() - 3, std::max(2.0, x(touch.until_us) - at.x()), 3),
                   m_theme.color(Tone::Brick));
        for (int i = 0; i < 8; ++i) {
            const QPointF d(std::cos(i * M_PI / 4), std::sin(i * M_PI / 4));
            p.drawLine(at + d * 2, at + d * 7);
        }
    }
}

void TimeStrip::paintReadings(QPainter &p) const
{
    const auto &trace = m_run.trace();
    const auto &on = *m_run.plan().on;
    const auto row = readingRow();
    const auto &program = on.program();
    const rules::Reading *reading = nullptr;
    double limit_m = 0.5;
    for (const auto &r : program.readings)
        if (rules::isEcho(r)) {
            reading = reading ? reading : &r;
            limit_m = std::max(limit_m, r.limit_m.value_or(2.0));
        }
    const auto unit =
        units::shownIn(reading ? reading->unit : units::Unit::Centimetre, listener().display);
    const auto y = [&](double m) {
        return row.bottom() - row.height() * std::clamp(m / limit_m, 0.0, 1.0);
    };
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.drawLine(row.bottomLeft(), row.bottomRight());
    p.drawLine(row.topLeft(), row.bottomLeft());
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    for (const double share : {0.0, 1.0})
        p.drawText(QRectF(0, y(limit_m * share) - 9, row.left() - 6, 18),
                   Qt::AlignRight | Qt::AlignVCenter,
                   share == 0.0 ? QString("0") : str(units::quantity(limit_m, unit, 0)));
    std::vector<QRectF> labels;
    std::vector<std::pair<QRectF, QString>> limits;
    for (const auto &v : program.values) {
        if (v.kind != rules::ValueKind::Distance || !v.si || *v.si > limit_m)
            continue;
        bool compared = false;
        const auto asks = [&](const std::vector<rules::Rule> &rules) {
            for (const auto &r : rules)
                for (const auto &c : r.when)
                    compared |= c.test == rules::Test::Number && c.value == v.name;
        };
        asks(program.everywhere);
        for (const auto &s : program.states)
            asks(s.rules);
        if (!compared)
            continue;
        p.setPen(QPen(m_theme.color(Tone::Ochre), m_theme.line()));
        p.drawLine(QPointF(row.left(), y(*v.si)), QPointF(row.right(), y(*v.si)));
        const auto words = str(units::quantity(*v.si, unit, 1));
        QRectF box(row.left() + 4, y(*v.si) - p.fontMetrics().height() - 1,
                   p.fontMetrics().horizontalAdvance(words) + 4, p.fontMetrics().height());
        for (const auto &other : labels) // two limits that lie close: the second beside the first
            if (other.intersects(box))
                box.moveLeft(other.right() + 8);
        labels.push_back(box);
        limits.emplace_back(box, words);
    }
    // Several rangers have marks of their own.
    const qreal dot = trace.pings.size() > 1500 ? 1.2 : 1.8;
    for (const auto &ping : trace.pings) {
        const bool none = ping.read_m < 0.0 || ping.read_m > limit_m;
        const bool wrong = ping.wrong != world::Wrong::Right;
        if (none && !wrong)
            continue;
        const QPointF at(x(ping.sent_us), none ? row.top() : y(ping.read_m));
        if (wrong) {
            p.setPen(QPen(m_theme.color(Tone::Brick), 1.3));
            p.drawLine(at - QPointF(3, 3), at + QPointF(3, 3));
            p.drawLine(at - QPointF(3, -3), at + QPointF(3, -3));
            continue;
        }
        const auto colour = m_theme.color(Tone::Result);
        p.setPen(ping.ranger == 0 ? QPen(Qt::NoPen) : QPen(colour, 1));
        p.setBrush(ping.ranger == 0 ? QBrush(colour) : QBrush(Qt::NoBrush));
        if (ping.ranger % 3 == 1)
            p.drawRect(QRectF(at.x() - dot, at.y() - dot, 2 * dot, 2 * dot));
        else if (ping.ranger % 3 == 2)
            p.drawPolygon(QPolygonF({at + QPointF(0, -dot - 0.6), at + QPointF(dot + 0.6, dot),
                                     at + QPointF(-dot - 0.6, dot)}));
        else
            p.drawEllipse(at, dot, dot);
    }
    for (const auto &[box, words] : limits) { // over the readings: they hide no number
        p.fillRect(box, m_theme.color(Tone::Paper));
        p.setPen(m_theme.color(Tone::Ochre));
        p.drawText(box, Qt::AlignCenter, words);
    }
}

/// One row a sensor that says yes or no: filled while its output is high.
void TimeStrip::paintLevels(QPainter &p, const QRectF &row) const
{
    const auto &car = m_run.plan().on->model();
    std::vector<int> eyes;
    for (size_t i = 0; i < car.eyes.size(); ++i)
        if (car.eyes[i].kind == oncar::Eye::Kind::Digital)
            eyes.push_back(static_cast<int>(i));
    if (eyes.empty())
        return;
    // From the car's left to its right, as it is seen from behind.
    std::sort(eyes.begin(), eyes.end(),
              [&](int a, int b) { return car.eyes[size_t(a)].at.y > car.eyes[size_t(b)].at.y; });
    const qreal h = std::min<qreal>(row.height() / qreal(eyes.size()), 24 * m_theme.scale());
    p.setFont(m_theme.text(Type::Small));
    for (size_t n = 0; n < eyes.size(); ++n) {
        const auto &e = car.eyes[size_t(eyes[n])];
        const QRectF line(row.left(), row.top() + h * qreal(n) + 2, row.width(), h - 5);
        p.setPen(m_theme.color(Tone::Ink2));
        const auto name = str(e.terminal == "OUT" ? e.instance : e.terminal);
        p.drawText(QRectF(0, line.top() - 4, row.left() - 6, line.height() + 8),
                   Qt::AlignRight | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(name, Qt::ElideMiddle, int(row.left() - 8)));
        p.setPen(QPen(m_theme.color(Tone::Rule), 1));
        p.drawLine(line.bottomLeft(), line.bottomRight());
        bool dark = false;
        qreal since = row.left();
        const auto fill = [&](qreal until) {
            if (dark)
                p.fillRect(QRectF(since, line.top(), std::max(0.7, until - since), line.height()),
                           m_theme.color(Tone::Ink2));
        };
        for (const auto &c : m_run.trace().changes) {
            if (c.eye != eyes[n])
                continue;
            fill(x(c.time_us));
            since = x(c.time_us);
            dark = (c.value != 0) != e.highOnLight;
        }
        fill(row.right());
    }
}

/// A sensor that gives a count, as a line.
void TimeStrip::paintCounts(QPainter &p, const QRectF &row) const
{
    const auto &car = m_run.plan().on->model();
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(0, row.top() - 9, row.left() - 6, 18), Qt::AlignRight | Qt::AlignVCenter,
               "1023");
    p.drawText(QRectF(0, row.bottom() - 9, row.left() - 6, 18), Qt::AlignRight | Qt::AlignVCenter,
               "0");
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.drawLine(row.bottomLeft(), row.bottomRight());
    p.drawLine(row.topLeft(), row.bottomLeft());
    p.setBrush(Qt::NoBrush);
    for (size_t i = 0; i < car.eyes.size(); ++i) {
        if (car.eyes[i].kind != oncar::Eye::Kind::Analogue &&
            car.eyes[i].kind != oncar::Eye::Kind::Light)
            continue;
        QPainterPath path;
        qreal last = -10;
        for (const auto &c : m_run.trace().changes) {
            if (c.eye != static_cast<int>(i))
                continue;
            const QPointF at(x(c.time_us), row.bottom() - row.height() * c.value / 1023.0);
            if (path.elementCount() == 0)
                path.moveTo(at);
            else if (at.x() - last > 0.4)
                path.lineTo(at);
            else
                continue;
            last = at.x();
        }
        p.setPen(QPen(m_theme.color(Tone::Result), 1.2));
        p.drawPath(path);
    }
}

void TimeStrip::paintWheels(QPainter &p) const
{
    const auto &trace = m_run.trace();
    double most = 0.01;
    for (const auto &m : trace.path)
        most = std::max({most, std::abs(m.wheels_mps[0]), std::abs(m.wheels_mps[1])});
    p.setFont(m_theme.text(Type::Small));
    for (int wheel = 0; wheel < 2; ++wheel) {
        const auto row = wheelRow(wheel);
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QRectF(0, row.center().y() - 9, row.left() - 6, 18),
                   Qt::AlignRight | Qt::AlignVCenter, wheel == 0 ? tr("left") : tr("right"));
        p.setPen(QPen(m_theme.color(Tone::Rule), 1));
        p.drawLine(QPointF(row.left(), row.center().y()), QPointF(row.right(), row.center().y()));
        QPainterPath path;
        qreal last = -10;
        for (const auto &m : trace.path) {
            const QPointF at(x(m.time_us), row.center().y() - row.height() / 2 *
                                                                  m.wheels_mps[size_t(wheel)] /
                                                                  most);
            if (path.elementCount() == 0)
                path.moveTo(at);
            else if (at.x() - last > 0.3)
                path.lineTo(at);
            else
                continue;
            last = at.x();
        }
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(m_theme.color(Tone::Ink), 1.4));
        p.drawPath(path);
    }
}

void TimeStrip::paintTimes(QPainter &p) const
{
    const double end_s = double(m_run.end_us()) * 1e-6;
    int step = 1;
    for (const int s : {1, 2, 5, 10, 20, 30, 60, 120}) {
        step = s;
        if (end_s / s <= 13)
            break;
    }
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    for (int second = 0; second <= int(end_s + 0.01); second += step)
        p.drawText(QRectF(x(std::uint64_t(second) * 1000000) - 24, area().bottom() + 3, 48, 16),
                   Qt::AlignCenter, QString::number(second) + (second == 0 ? " s" : ""));
}

void TimeStrip::paintAll(QPainter &p) const
{
    paintStates(p);
    const auto &car = m_run.plan().on->model();
    const auto row = readingRow();
    const auto has = [&](auto test) { return std::any_of(car.eyes.begin(), car.eyes.end(), test); };
    const bool levels =
        has([](const oncar::Eye &e) { return e.kind == oncar::Eye::Kind::Digital; });
    const bool counts = has([](const oncar::Eye &e) {
        return e.kind == oncar::Eye::Kind::Analogue || e.kind == oncar::Eye::Kind::Light;
    });
    if (!m_run.trace().pings.empty())
        paintReadings(p);
    else if (levels)
        paintLevels(p, row);
    else if (counts)
        paintCounts(p, row);
    if (showsWheels())
        paintWheels(p);
    paintTimes(p);
}

void TimeStrip::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    if (!m_run)
        return;
    if (m_picture.isNull()) {
        m_picture = QPixmap(size() * devicePixelRatioF());
        m_picture.setDevicePixelRatio(devicePixelRatioF());
        m_picture.fill(Qt::transparent);
        QPainter still(&m_picture);
        still.setRenderHint(QPainter::Antialiasing);
        paintAll(still);
    }
    p.drawPixmap(0, 0, m_picture);
    p.setRenderHint(QPainter::Antialiasing);
    const qreal now = x(m_time_us);
    p.setPen(QPen(m_theme.color(Tone::Ink), 1.6));
    p.drawLine(QPointF(now, 1), QPointF(now, area().bottom() + 3));
    paintFocus(p, *this, m_theme);
}

void TimeStrip::scrubTo(qreal px)
{
    if (!m_run)
        return;
    const auto a = area();
    const double share = std::clamp((px - a.left()) / a.width(), 0.0, 1.0);
    emit scrubbed(static_cast<std::uint64_t>(share * double(m_run.end_us())));
}

void TimeStrip::mousePressEvent(QMouseEvent *event)
{
    setFocus();
    scrubTo(event->position().x());
}

void TimeStrip::mouseMoveEvent(QMouseEvent *event)
{
    if (event->buttons() & Qt::LeftButton)
        scrubTo(event->position().x());
}

void TimeStrip::keyPressEvent(QKeyEvent *event)
{
    if (m_leavesArrows)
        return event->ignore();
    if (event->key() == Qt::Key_Right)
        emit stepped(1);
    else if (event->key() == Qt::Key_Left)
        emit stepped(-1);
    else
        QWidget::keyPressEvent(event);
}

} // namespace badger::app
