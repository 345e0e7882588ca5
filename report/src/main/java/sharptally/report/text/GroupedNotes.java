package sharptally.report.text;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Notes of many tables in few lines: what is said of several columns or tables in the same words is said once. */
final class GroupedNotes {
    private static final int LEAST = 3;
    /** What says that something was not proved. */
    private static final Pattern MARKED = Pattern.compile("NOT COMPARED|NOTHING COMPARED|can't be told");

    private static final int NAMED = 3;
    private static final Pattern OF_COLUMN = Pattern.compile("(?s)(.+?): column (.+?) (is|holds|may be|was)( .*)");
    private static final Pattern OF_TABLE = Pattern.compile("(?s)(.+?): (.*)");
    private static final Map<String, String> PLURAL =
            Map.of("is", "are", "holds", "hold", "may be", "may be", "was", "were");

    private GroupedNotes() {}

    /** What a note is about, and what it says of it; {@code about} is empty where it is of the run. */
    private record Said(String about, String kind, String text) {}

    /** The notes, each in the place of the first of those that say the same. */
    static List<String> of(List<String> notes) {
        Map<String, List<Said>> groups = new LinkedHashMap<>();
        for (int i = 0; i < notes.size(); i++) {
            Said said = said(notes.get(i));
            // What must not be overlooked stands by itself.
            boolean alone = said.about.isEmpty() || MARKED.matcher(said.text).find();
            groups.computeIfAbsent(alone ? "\0" + i : said.kind + said.text, key -> new ArrayList<>())
                    .add(said);
        }
        List<String> lines = new ArrayList<>();
        groups.values().forEach(group -> {
            if (group.size() < LEAST) {
                group.forEach(said -> lines.add(one(said)));
            } else {
                lines.add(several(group));
            }
        });
        return lines;
    }

    private static Said said(String note) {
        Matcher column = OF_COLUMN.matcher(note);
        if (column.matches()) {
            return new Said(column.group(1) + "." + column.group(2), "column " + column.group(3), column.group(4));
        }
        Matcher table = OF_TABLE.matcher(note);
        return table.matches() && !table.group(1).contains(" ")
                ? new Said(table.group(1), "table", table.group(2))
                : new Said("", "", note);
    }

    private static String one(Said said) {
        if (said.about.isEmpty()) {
            return said.text;
        }
        return said.about + (said.kind.equals("table") ? ": " : " " + said.kind.substring(7)) + said.text;
    }

    private static String several(List<Said> group) {
        Said first = group.get(0);
        boolean table = first.kind.equals("table");
        String names =
                String.join(", ", group.stream().limit(NAMED).map(Said::about).toList());
        String more = group.size() > NAMED ? " …" : "";
        String what = Figures.count(group.size(), table ? "table" : "column") + " (" + names + more + ")";
        return what + (table ? ": " : " " + PLURAL.get(first.kind.substring(7))) + first.text;
    }
}
