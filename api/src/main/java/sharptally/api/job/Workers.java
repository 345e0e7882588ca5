package sharptally.api.job;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.compare.Pair;
import sharptally.core.compare.run.WorkerPool;
import sharptally.core.place.Place;

/**
 * Works through numbered tasks with several threads, each having both places over connections of its own. The first
 * failure that a task does not keep to itself ends the work.
 */
final class Workers {
    private Workers() {}

    /** One task: its number, and the places to use. */
    interface Task {
        void run(int number, Pair places);
    }

    /** Whether what the workers saw was one state of each place. */
    static boolean run(int workers, int tasks, Pair places, Task task) {
        int threads = Math.max(1, Math.min(workers, tasks));
        if (threads == 1) {
            for (int i = 0; i < tasks; i++) {
                task.run(i, places);
            }
            return true;
        }
        List<Pair> members = new ArrayList<>(List.of(places));
        List<Place> opened = new ArrayList<>();
        try {
            for (int i = 1; i < threads; i++) {
                Place one = places.source().another();
                opened.add(one);
                Place other = places.target().another();
                opened.add(other);
                members.add(new Pair(one, other));
            }
            WorkerPool.run(members, tasks, (pair, number, stop) -> task.run(number, pair), Pair::rest);
            return opened.stream().allMatch(Place::sharesState);
        } finally {
            opened.forEach(Place::close);
        }
    }
}
