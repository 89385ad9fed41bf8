// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/port_listener.h"

#include "app/tune/port_worker.h"

#include <QSerialPortInfo>

namespace badger::app
{

PortListener::PortListener(QObject *parent) : QObject(parent)
{
    qRegisterMetaType<Heard>();
    qRegisterMetaType<PortListener::State>();
    auto *worker = new PortWorker;
    worker->moveToThread(&m_thread);
    connect(&m_thread, &QThread::finished, worker, &QObject::deleteLater);
    connect(this, &PortListener::wanted, worker, &PortWorker::open);
    connect(this, &PortListener::unwanted, worker, &PortWorker::close);
    connect(worker, &PortWorker::heard, this, &PortListener::heard);
    connect(worker, &PortWorker::stateChanged, this,
            [this](PortListener::State state, const QString &trouble) {
                m_state = state;
                emit stateChanged(state, trouble);
            });
    m_thread.setObjectName("port");
    m_thread.start();
}

PortListener::~PortListener()
{
    m_thread.quit();
    m_thread.wait();
}

void PortListener::open(const QString &path, int baud)
{
    m_baud = baud;
    m_state = State::Opening;
    emit wanted(path, baud);
}

void PortListener::close()
{
    emit unwanted();
}

QStringList PortListener::ports()
{
    QStringList paths;
    for (const auto &port : QSerialPortInfo::availablePorts())
        paths << port.systemLocation();
    return paths;
}

} // namespace badger::app
