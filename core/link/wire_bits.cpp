// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/wire_bits.h"

namespace badger::link
{

Receiver::Receiver(std::uint32_t sends_baud, std::uint32_t listens_baud)
    : m_senderBit(2ULL * listens_baud), m_listenerBit(2ULL * sends_baud)
{
}

void Receiver::byte(std::uint8_t sent, std::string &heard)
{
    level(false, m_senderBit, heard);
    for (int i = 0; i < 8; ++i)
        level(((sent >> i) & 1) != 0, m_senderBit, heard);
    level(true, m_senderBit, heard);
}

void Receiver::rest(std::uint64_t bits, std::string &heard)
{
    level(true, bits * m_senderBit, heard);
}

void Receiver::level(bool high, std::uint64_t length, std::string &heard)
{
    if (m_bit < 0 && m_high && !high) {
        m_bit = 0;
        m_data = 0;
        m_until = m_listenerBit / 2;
    }
    m_high = high;
    std::uint64_t left = length;
    while (m_bit >= 0 && m_until < left) {
        left -= m_until;
        m_until = m_listenerBit;
        if (m_bit == 0 && high) {
            m_bit = -1; // a start that did not last
            return;
        }
        if (m_bit >= 1 && m_bit <= 8 && high)
            m_data |= 1U << (m_bit - 1);
        if (m_bit == 9) {
            heard.push_back(static_cast<char>(static_cast<unsigned char>(m_data)));
            m_bit = -1;
            return;
        }
        ++m_bit;
    }
    if (m_bit >= 0)
        m_until -= left;
}

} // namespace badger::link
