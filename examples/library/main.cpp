// Says what a plan comes to: findings, each walk, what players could run into. To build it:
// c++ -std=c++20 main.cpp $(pkg-config --cflags --libs hestrel) -o verdict, or CMakeLists.txt

#include <hestrel/explore.hpp>
#include <hestrel/version.hpp>
#include <hestrel/walk.hpp>

#include <exception>
#include <iostream>

int main(int argc, char** argv) {
    if (argc != 2) {
        std::cerr << "usage: verdict PLAN\n";
        return 2;
    }
    try {
        std::cout << "hestrel " << hestrel::library_version() << "\n";
        const hestrel::Plan plan = hestrel::read_plan(argv[1]);
        for (const hestrel::Finding& finding : hestrel::check_plan(plan))
            std::cout << hestrel::text_of(finding) << "\n";
        bool fine = true;
        for (const hestrel::Walk& walk : hestrel::walk_routes(plan)) {
            std::cout << walk.route << " on " << walk.device << ": " << walk.peak_mib << " of "
                      << walk.budget_mib << " MiB, " << hestrel::text_of(walk.verdict) << "\n";
            fine = fine && walk.verdict == hestrel::Verdict::fine;
        }
        hestrel::ExploreOptions options;
        options.limit = 20'000; // situations of each edition
        for (const hestrel::Explored& explored : hestrel::explore_editions(plan, {}, options)) {
            std::cout << "edition " << explored.edition << ": " << explored.situations
                      << " situations, " << explored.found.size() << " findings\n";
            fine = fine && explored.found.empty();
        }
        return fine ? 0 : 1;
    } catch (const std::exception& error) {
        std::cerr << error.what() << "\n";
        return 3;
    }
}
