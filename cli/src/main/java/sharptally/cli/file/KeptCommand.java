package sharptally.cli.file;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.keep.KeptDumps;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.report.text.Figures;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

@Command(
        name = "kept",
        description = {
            "What was read of large dumps and is kept for the next time.",
            "It goes by itself when it was not read for the days that the dump's address says (keep=30d; 7 without)."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:listed, or removed", "2:nothing is kept by such a name"},
        footer = {"", "Example: sharp-tally kept --remove 3f0c5a1be2d9"})
public final class KeptCommand implements Callable<Integer> {
    private static final DateTimeFormatter DAY =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm").withZone(ZoneOffset.UTC);

    private final Screen screen;

    @Option(names = "--remove", paramLabel = "NAME", description = "Remove what is kept by this name. Repeatable.")
    List<String> removed = new ArrayList<>();

    @Option(names = "--remove-all", description = "Remove all that is kept.")
    boolean all;

    @Mixin
    FormatChoice format = new FormatChoice();

    public KeptCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (all && !removed.isEmpty()) {
            throw new ToolException(ErrorKind.USAGE, "--remove-all removes each of them", "kept", "give one of both");
        }
        KeptDumps kept = new KeptDumps(Connections.keeping());
        Instant now = Instant.now();
        boolean removes = all || !removed.isEmpty();
        List<KeptDumps.Entry> entries = kept.list(now);
        if (removes) {
            entries = kept.remove(
                    all ? entries.stream().map(KeptDumps.Entry::name).toList() : removed, now);
        }
        if (format.isJson()) {
            return JsonResult.done(
                    screen,
                    "kept",
                    0,
                    Map.of(
                            removes ? "removed" : "kept",
                            entries.stream().map(KeptCommand::json).toList()));
        }
        if (removes) {
            screen.print(entries.stream()
                    .map(e -> "removed " + e.name() + ", of " + e.dump())
                    .toList());
        }
        if (entries.isEmpty()) {
            screen.print(List.of("nothing is kept in " + kept.folder()));
        } else if (!removes) {
            screen.print(lines(entries));
        }
        return 0;
    }

    private static Map<String, Object> json(KeptDumps.Entry entry) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("name", entry.name());
        json.put("dump", entry.dump());
        json.put("tables", entry.tables());
        json.put("bytes", entry.bytes());
        json.put("used", entry.used().truncatedTo(ChronoUnit.SECONDS).toString());
        json.put("goes", entry.goes().truncatedTo(ChronoUnit.SECONDS).toString());
        return json;
    }

    private List<String> lines(List<KeptDumps.Entry> entries) {
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.RIGHT, Align.RIGHT, Align.LEFT, Align.LEFT);
        table.heading("name", "dump", "tables", "size", "read", "goes");
        for (KeptDumps.Entry entry : entries) {
            table.row(List.of(
                    Cell.of(entry.name()),
                    Cell.of(entry.dump()),
                    Cell.of(Figures.count(entry.tables())),
                    Cell.of(Figures.bytes(entry.bytes())),
                    Cell.of(DAY.format(entry.used())),
                    Cell.of(DAY.format(entry.goes()))));
        }
        return table.lines(screen.style(), screen.columns());
    }
}
