// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/live_bar.h"

#include "core/standin/talker.h"
#include "core/tune/stats.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace badger::app
{

namespace
{

constexpr size_t lastKept = 100;
constexpr size_t mostRecorded = 100000;

QString shortNumber(double value)
{
    return QString::number(value, 'f', std::abs(value) < 10 && value != std::floor(value) ? 2 : 0);
}

} // namespace

void LiveBar::makeFields()
{
    m_port = new QComboBox;
    m_port->setObjectName("port");
    m_port->setEditable(true);
    m_port->setInsertPolicy(QComboBox::NoInsert);
    m_port->lineEdit()->setPlaceholderText(tr("port or path"));
    m_port->setAccessibleName(tr("Port"));
    m_port->addItems(PortListener::ports());
    m_port->setCurrentIndex(m_port->count() > 0 ? 0 : -1);
    m_port->setMinimumWidth(qRound(150 * m_theme.scale()));
    m_baud = new QComboBox;
    m_baud->setObjectName("baud");
    m_baud->setAccessibleName(tr("Rate of the line"));
    for (const auto rate : link::usualRates())
        m_baud->addItem(QString::number(rate));
    m_baud->setCurrentText("115200");
    m_listen = new QPushButton(tr("&Listen"));
    m_listen->setObjectName("listen");
    m_channel = new QComboBox;
    m_channel->setObjectName("channel");
    m_channel->setAccessibleName(tr("Channel"));
    m_channel->hide();
    m_now = new QLabel;
    m_now->setObjectName("liveNumber");
    m_now->setFont(m_theme.text(Type::Big, true));
    m_numbers = new QLabel;
    m_numbers->setProperty("small", true);
    m_state = new QLabel;
    m_state->setObjectName("hearing");
    m_state->setWordWrap(true);
    m_state->setTextFormat(Qt::PlainText);
    m_takeRate = new QPushButton;
    m_takeRate->setObjectName("takeRate");
    m_takeRate->hide();
}

LiveBar::LiveBar(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(1));
    auto *row = new QHBoxLayout;
    row->setSpacing(theme.space(2));
    makeFields();
    row->addWidget(m_port);
    row->addWidget(m_baud);
    row->addWidget(m_listen);
    row->addWidget(m_channel);
    row->addWidget(m_now);
    row->addWidget(m_numbers);
    row->addStretch(1);
    row->addWidget(m_takeRate);
    layout->addLayout(row);
    // Below, so that it does not make the row higher where type is large.
    layout->addWidget(m_state);
    makeStandin(*row, *layout);
    m_plot = new LivePlot(theme);
    m_plot->hide();
    layout->addWidget(m_plot);
    m_state->setText(tr("No board is listened to: choose its port, or start the stand-in."));
    connect(m_listen, &QPushButton::clicked, this, &LiveBar::toggle);
    connect(m_port->lineEdit(), &QLineEdit::returnPressed, this, [this] {
        if (!isListening())
            toggle();
    });
    connect(m_takeRate, &QPushButton::clicked, this,
            [this] { listen(m_port->currentText(), static_cast<int>(m_proposed)); });
    connect(m_channel, &QComboBox::activated, this, [this] {
        m_last.clear();
        m_plot->clear();
    });
    connect(&m_listener, &PortListener::heard, this, &LiveBar::take);
    connect(&m_listener, &PortListener::stateChanged, this, &LiveBar::showState);
}

void LiveBar::makeStandin(QHBoxLayout &row, QVBoxLayout &below)
{
    m_practise = new QPushButton(tr("Start the stand-in"));
    m_practise->setObjectName("practise");
    m_practise->setProperty("link", true);
    m_practise->setToolTip(tr("A board that is not there, to practise with. What it says is kept "
                              "as sample data."));
    m_standin = new StandinBench(m_theme);
    below.addWidget(m_standin);
    row.addWidget(m_practise);
    connect(m_practise, &QPushButton::clicked, this, &LiveBar::practise);
    connect(m_standin, &StandinBench::ready, this, [this](const QString &path) {
        m_practise->hide();
        listen(path, m_baud->currentText().toInt());
    });
    connect(m_standin, &StandinBench::failed, this,
            [this](const QString &reason) { emit said(reason, true); });
    connect(m_standin, &StandinBench::ended, this, [this] {
        m_practise->show();
        m_listener.close();
    });
}

void LiveBar::practise()
{
    if (m_standin->isRunning()) // clicked twice
        return;
    if (isListening())
        m_listener.close();
    m_standin->start(m_baud->currentText().toInt());
}

bool LiveBar::isMadeUp() const
{
    return m_header && m_header->build.starts_with(standin::buildPrefix);
}

void LiveBar::toggle()
{
    if (isListening())
        m_listener.close();
    else
        listen(m_port->currentText(), m_baud->currentText().toInt());
}

void LiveBar::listen(const QString &path, int baud)
{
    if (path.trimmed().isEmpty()) {
        emit said(tr("No port is named: choose one, or type its path."), true);
        return;
    }
    m_port->setEditText(path.trimmed());
    m_baud->setCurrentText(QString::number(baud));
    m_header.reset();
    m_last.clear();
    m_plot->clear();
    m_takeRate->hide();
    m_listener.open(path.trimmed(), baud);
}

void LiveBar::prefer(const QString &name, link::ChannelUnit unit)
{
    m_preferredName = name;
    m_preferredUnit = unit;
    if (m_header)
        showHeader(*m_header);
}

link::ChannelUnit LiveBar::channelUnit() const
{
    return m_header && channel() >= 0 ? m_header->channels[static_cast<size_t>(channel())].unit
                                      : m_preferredUnit;
}

int LiveBar::channel() const
{
    return m_channel->currentIndex();
}

void LiveBar::showHeader(const link::Header &header)
{
    m_header = header;
    m_channel->clear();
    int best = -1;
    for (size_t i = 0; i < header.channels.size(); ++i) {
        const auto &c = header.channels[i];
        m_channel->addItem(
            QString("%1, %2").arg(QString::fromStdString(c.name), link::symbol(c.unit)));
        const bool named = QString::fromStdString(c.name) == m_preferredName;
        if (named || (best < 0 && c.unit == m_preferredUnit))
            best = static_cast<int>(i);
    }
    m_channel->setCurrentIndex(std::max(0, best));
    m_channel->show();
    m_last.clear();
    m_plot->clear();
}

void LiveBar::startRecording()
{
    m_recording.emplace();
    m_plot->mark(m_at_s, true);
    emit recordingChanged();
}

tune::Stretch LiveBar::stopRecording()
{
    tune::Stretch stretch;
    stretch.readings = std::move(m_recording.value());
    m_recording.reset();
    m_plot->mark(m_at_s, false);
    emit recordingChanged();
    return stretch;
}

std::optional<double> LiveBar::battery_V() const
{
    if (m_battery_mV.empty())
        return std::nullopt;
    return tune::medianOf({m_battery_mV.begin(), m_battery_mV.end()}) / 1000.0;
}

void LiveBar::sample(const link::Sample &sample, double)
{
    // The board's own clock parts the readings evenly; over a restart it goes on.
    if (m_lastBoard_ms && sample.time_ms >= *m_lastBoard_ms)
        m_at_s += (sample.time_ms - *m_lastBoard_ms) * 1e-3;
    m_lastBoard_ms = sample.time_ms;
    const int chosen = channel();
    for (size_t i = 0; i < sample.values.size(); ++i) {
        const auto &v = sample.values[i];
        const auto &c = m_header->channels[i];
        if (c.name == "battery" && c.unit == link::ChannelUnit::Millivolts &&
            v.kind == link::Value::Kind::Number) {
            m_battery_mV.push_back(v.number);
            if (m_battery_mV.size() > lastKept)
                m_battery_mV.pop_front();
        }
        if (static_cast<int>(i) != chosen || v.kind == link::Value::Kind::NotRead)
            continue;
        const bool isNumber = v.kind == link::Value::Kind::Number;
        const auto value = isNumber ? std::optional(v.number) : std::nullopt;
        m_last.push_back(value);
        if (m_last.size() > lastKept)
            m_last.pop_front();
        m_plot->add(m_at_s, value);
        if (m_recording && m_recording->size() < mostRecorded)
            m_recording->push_back(value.value_or(tune::nothingCame));
    }
}

void LiveBar::take(const Heard &heard)
{
    for (const auto &event : heard.events) {
        if (const auto *h = std::get_if<link::HeaderCame>(&event)) {
            if (!m_header || *m_header != h->header)
                showHeader(h->header);
        } else if (const auto *s = std::get_if<link::SampleCame>(&event)) {
            if (m_header && s->sample.values.size() == m_header->channels.size())
                sample(s->sample, s->at_s);
        } else if (const auto *w = std::get_if<link::WordsCame>(&event)) {
            emit said(tr("The board says: %1").arg(QString::fromStdString(w->text)), false);
        } else if (std::holds_alternative<link::SamplesLost>(event) ||
                   std::holds_alternative<link::Restarted>(event)) {
            m_plot->gap();
            if (std::holds_alternative<link::Restarted>(event))
                m_lastBoard_ms.reset();
        }
    }
    showNumbers(heard);
    if (m_plot->isVisible())
        m_plot->advance(m_at_s);
}

void LiveBar::showNumbers(const Heard &heard)
{
    m_plot->setVisible(m_header.has_value());
    QString trouble;
    m_proposed = 0;
    switch (heard.hearing) {
    case link::Hearing::Silent:
        trouble = tr("The board is silent: look at its plug, its program and its rate.");
        break;
    case link::Hearing::Rubbish:
        m_proposed = heard.likelyRate ? heard.likelyRate->likely_baud : 0;
        trouble = m_proposed == 0
                      ? tr("Baud mismatch: what comes is rubbish.")
                      : tr("Baud mismatch: the board most likely speaks at %1.").arg(m_proposed);
        break;
    case link::Hearing::Stranger:
        trouble = tr("The board speaks, but not these lines: load a part test. Heard: %1")
                      .arg(heard.strange.right(24));
        break;
    case link::Hearing::Early:
        trouble = tr("Readings come; their names are asked for.");
        break;
    case link::Hearing::Waiting:
        trouble = tr("Listening ...");
        break;
    case link::Hearing::Fine:
        break;
    }
    m_takeRate->setVisible(m_proposed != 0);
    if (m_proposed != 0)
        m_takeRate->setText(tr("Listen at %1").arg(m_proposed));
    std::vector<double> numbers;
    for (const auto &v : m_last)
        if (v)
            numbers.push_back(*v);
    const bool some = !numbers.empty() || !m_last.empty();
    m_now->setVisible(some);
    m_numbers->setVisible(some);
    if (some) {
        const QString unit = channelUnit() == link::ChannelUnit::Counts ? tr("counts")
                             : channelUnit() == link::ChannelUnit::Level
                                 ? QString()
                                 : link::symbol(channelUnit());
        m_now->setText(m_last.back() ? QString("%1 %2").arg(shortNumber(*m_last.back()), unit)
                                     : tr("none"));
        if (!numbers.empty()) {
            const auto s = tune::spreadOf(numbers);
            m_numbers->setText(tr("%1 to %2 · median %3\njitter %4 · %5 a second · %6 lost")
                                   .arg(shortNumber(s.least), shortNumber(s.most),
                                        shortNumber(s.median),
                                        QString::number(tune::robustDeviation(numbers), 'f', 1),
                                        QString::number(heard.rate_hz, 'f', 1))
                                   .arg(heard.tally.lost));
        }
    }
    if (m_listener.state() == PortListener::State::Open) {
        m_state->setText(trouble);
        m_state->setVisible(!trouble.isEmpty());
    }
}

void LiveBar::showState(PortListener::State state, const QString &trouble)
{
    m_listen->setText(state == PortListener::State::Closed ? tr("&Listen") : tr("Stop &listening"));
    m_port->setEnabled(state == PortListener::State::Closed);
    m_baud->setEnabled(state == PortListener::State::Closed);
    m_state->setText(trouble);
    m_state->setVisible(!trouble.isEmpty());
    if (state == PortListener::State::Away)
        m_plot->gap();
    if (state == PortListener::State::Closed) {
        m_takeRate->hide();
        if (!trouble.isEmpty())
            emit said(trouble, true);
        if (m_recording)
            emit recordingChanged();
    }
    emit listeningChanged();
}

} // namespace badger::app
