// A log of measured loads, read cell by cell.

#include "exchange/load_log.hpp"

#include "support/printing.hpp"

using namespace hestrel;
using exchange::LoadLog;
using Errors = std::vector<std::string>;

namespace {

LoadLog read(std::string_view csv) {
    return exchange::read_load_log(csv, "loads.csv");
}

} // namespace

TEST_CASE("load log: columns in any order, cells can be empty, sizes have units") {
    const LoadLog log = read("read_s,piece,packed,objects\n1.5,quay,140,2400\n20 ms,hall,1 GiB,\n"
                             ",loft,,7\n");
    REQUIRE(log.errors == Errors{});
    REQUIRE(log.measurements.size() == 3);
    const calibrate::Measurement& quay = log.measurements[0];
    CHECK(quay.line == 2);
    CHECK(quay.piece == "quay");
    CHECK(quay.packed == 140.0);
    CHECK(quay.objects == 2400.0);
    CHECK(quay.read == 1.5);
    CHECK_FALSE(quay.unpacked); // its column is not there
    CHECK(log.measurements[1].read == Approx(0.02));
    CHECK(log.measurements[1].packed == 1024.0);
    CHECK_FALSE(log.measurements[1].objects);
    CHECK_FALSE(log.measurements[2].read);
}

TEST_CASE("load log: an empty line is none, and the last needs no end") {
    CHECK(read("piece,read_s\nquay,1\n\nhall,2").measurements.size() == 2);
}

TEST_CASE("load log: a column that none has, with the name that was meant, at its place") {
    CHECK(read("piece,pakced\nquay,1\n").errors ==
          Errors{"loads.csv:1:7: error: a log of loads has no column \"pakced\"; did you mean "
                 "\"packed\"?"});
    CHECK(read("packed\n1\n").errors ==
          Errors{"loads.csv:1:1: error: a log of loads needs the column \"piece\""});
    CHECK_FALSE(read("").errors.empty());
}

TEST_CASE("load log: what is no number, or can't be, is one message and hides no other") {
    const LoadLog log = read("piece,packed,objects,read_s\nquay,heavy,12,1\nhall,5,-1,-2 s\n"
                             "loft,1,2\n");
    REQUIRE(log.errors.size() == 4);
    CHECK(log.errors[0].starts_with("loads.csv:2:6: error: packed \"heavy\" "));
    CHECK(log.errors[1] == "loads.csv:3:8: error: objects \"-1\" is no number of objects");
    CHECK(log.errors[2] == "loads.csv:3:11: error: read_s \"-2 s\" is negative");
    CHECK(log.errors[3] == "loads.csv:4:1: error: 3 fields under 4 columns");
    CHECK(log.measurements.size() == 2);
}
