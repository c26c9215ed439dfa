// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/packed_text.h"

#include <zlib.h>

#include <cassert>

namespace eh {
namespace {

constexpr char newest_dictionary = 1;
constexpr std::size_t longest_text = std::size_t{64} << 20;

// Never changed: what is packed is unpacked with the same one. Most frequent last, where deflate reaches them
// with the shortest distances.
constexpr char dictionary_1[] =
    R"("waived","failed","reason":"","check":"percent","says":"The machine names the adapter's watts, and the )"
    R"(percentage goes up","check":"soak","check":"closed","check":"data","check":"keyboard","check":"display",)"
    R"("check":"radio","check":"sound","check":"fan","rework":{"opening":[],"photos":[],"runs":[{"block":"",)"
    R"("facts":[],"repair":""}]},"battery":{"capacity_wh":50.0,"cells":"","in_series":3,"machine_off":false,)"
    R"("readings":[{"charger_in":true,"input_watts":,"t_s":,"volts":}],"resolution_volts":0.01},)"
    R"("said":{"repairs":[{"block":"","probability":0.,"work":"replace"}],"said_ms":17},"waiting":{},)"
    R"("ask_before_data_loss":true,"brought":"","claim":"","customer":"","estimate":,"facts":["liquid",)"
    R"("dropped"],"machine":"","number":"","price_limit":,"return_of":"","topology":"usbc-two-chained",)"
    R"("acts":[{"block":"","cost":0.0,"done_ms":17,"id":"a1","kind":"replace","minutes":0.0,"note":"",)"
    R"("part_origin":"new","school":"","solder":""}],"findings":[{"id":"f1","noted_ms":17,"text":""}],)"
    R"("handover":{"advice":"","done":"","found":"","handed_ms":17,"price":,"unproven_reason":"",)"
    R"("warranty_months":3},"format":"eager-hound.job/1","created_ms":17,"stage":"closed","technician":"",)"
    R"("proof":[{"configuration":{},"id":"p1","kind":"wiggle","place":"","reading":"r1","state":"passed"}],)"
    R"("removed":[""],"replaced":[""],"lent":[""],"second_instruments":true,"injection":{"limit_amps":1.0,)"
    R"("net":"","volts":1.0},"changes_when_pushed":true,"certainty":0.5,"set_aside":true,"percent":)"
    R"(,"says":"charging","talk":"contract","drops_out":false,"look":"burnt","note":"","kind":"wiggle",)"
    R"("kind":"through","kind":"firmware","kind":"look","kind":"diode","kind":"hot","kind":"inject",)"
    R"("pattern":"cycling","pattern":"dark","pattern":"flash","value":"OL","unit":"K","place":"hot",)"
    R"({"configuration":{"battery_in":false,"board_out":true,"case_open":true,"charger":"customer",)"
    R"("charger_connected":false,"lead":"customer","side":"b"},"id":"r1","kind":"ohms","place":"vbus1",)"
    R"("source":"typed","taken_ms":17,"unit":"ohm","value":0.)"
    R"({"configuration":{"battery_in":true,"board_out":false,"case_open":true,"charger":"bench",)"
    R"("charger_connected":true,"lead":"bench","port":"p1","side":"a"},"id":"r1","kind":"volts","place":"vbus1",)"
    R"("source":"typed","taken_ms":17,"unit":"V","value":0.)"
    R"({"amps":0.,"amps_spread":0.0,"configuration":{"battery_in":true,"board_out":false,"case_open":false,)"
    R"("charger":"bench","charger_connected":true,"lead":"bench","port":"p1","side":"a"},"id":"r1",)"
    R"("kind":"meter","pattern":"steady","peak_amps":0.,"period_s":0.0,"source":"captured","taken_ms":17,)"
    R"("volts":20.0,"volts_spread":0.0)";

const Bytef* dictionary() {
    return reinterpret_cast<const Bytef*>(dictionary_1);
}
constexpr uInt dictionary_length = sizeof dictionary_1 - 1;

}  // namespace

QByteArray pack_text(const std::string& text) {
    z_stream stream{};
    // Most texts are readings, shorter than the dictionary: a window that holds both is all they need, and is
    // sooner cleared than a large one.
    constexpr std::size_t short_text = 1000;
    const bool is_short = text.size() <= short_text;
    const int raw_window = is_short ? -12 : -15;
    const int memory_level = is_short ? 4 : 8;
    const int begun = deflateInit2(&stream, Z_DEFAULT_COMPRESSION, Z_DEFLATED, raw_window, memory_level,
                                   Z_DEFAULT_STRATEGY);
    assert(begun == Z_OK && "pack_text: no memory");
    (void)begun;
    deflateSetDictionary(&stream, dictionary(), dictionary_length);
    QByteArray packed(static_cast<qsizetype>(deflateBound(&stream, static_cast<uLong>(text.size()))) + 1,
                      Qt::Uninitialized);
    packed[0] = newest_dictionary;
    stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(text.data()));
    stream.avail_in = static_cast<uInt>(text.size());
    stream.next_out = reinterpret_cast<Bytef*>(packed.data() + 1);
    stream.avail_out = static_cast<uInt>(packed.size() - 1);
    const int ended = deflate(&stream, Z_FINISH);
    assert(ended == Z_STREAM_END && "pack_text: the bound was no bound");
    (void)ended;
    packed.truncate(static_cast<qsizetype>(stream.total_out) + 1);
    deflateEnd(&stream);
    return packed;
}

Result<std::string> unpack_text(const QByteArray& packed, const std::string& place) {
    if (packed.isEmpty())
        return refused("this entry of the shop is empty; put back a copy of the shop", place);
    if (packed.front() != newest_dictionary)
        return Error{ErrorKind::newer_version, "this entry was written by a newer program; update this one",
                     place};
    z_stream stream{};
    constexpr int raw_window = -15;
    if (inflateInit2(&stream, raw_window) != Z_OK)
        return Error{ErrorKind::unavailable, "there is no memory left to read this entry", place};
    inflateSetDictionary(&stream, dictionary(), dictionary_length);
    stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(packed.constData() + 1));
    stream.avail_in = static_cast<uInt>(packed.size() - 1);
    std::string text;
    int state = Z_OK;
    while (state == Z_OK && text.size() <= longest_text) {
        char piece[8192];
        stream.next_out = reinterpret_cast<Bytef*>(piece);
        stream.avail_out = sizeof piece;
        state = inflate(&stream, Z_NO_FLUSH);
        text.append(piece, sizeof piece - stream.avail_out);
    }
    const bool whole = state == Z_STREAM_END && stream.avail_in == 0;
    inflateEnd(&stream);
    if (!whole)
        return refused("this entry of the shop is damaged; put back a copy of the shop", place);
    return text;
}

}  // namespace eh
