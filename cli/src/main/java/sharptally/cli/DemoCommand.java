package sharptally.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import sharptally.cli.cluster.OwnCluster;
import sharptally.cli.demo.DemoData;
import sharptally.cli.demo.DemoLake;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.sql.ShellText;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.Figures;
import sharptally.report.text.Style.Meaning;

@Command(
        name = "demo",
        description = {
            "Plays the whole path on two databases that differ.",
            "It makes them first: a tide-gauge archive and the database it moved to."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:played", "5:can't be written"},
        footer = {"", "Example: sharp-tally demo --out-folder tide-demo"})
final class DemoCommand implements Callable<Integer> {
    /** What stands in a folder that an earlier demo made. */
    private static final String MARK = "tide.yaml";

    private static final int LEAST_ROWS = 1_000;

    private final Screen screen;

    @Option(
            names = "--out-folder",
            paramLabel = "FOLDER",
            defaultValue = "tide-demo",
            description = "Where to put databases and runs. Default: ${DEFAULT-VALUE}.")
    Path folder = Path.of("tide-demo");

    @Option(
            names = "--size",
            paramLabel = "ROWS",
            defaultValue = "220000",
            description = "Rows of the largest table. Default: ${DEFAULT-VALUE}.")
    int rows = 220_000;

    @Option(
            names = "--cluster",
            description = {
                "Play the chapter of clusters instead.",
                "Starts a Spark of its own on this machine; SPARK_HOME says where Spark is."
            })
    boolean cluster;

    @Option(names = "--data-only", description = "Make the databases and stop.")
    boolean dataOnly;

    DemoCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (rows < LEAST_ROWS) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "too few rows for the demo",
                    Integer.toString(rows),
                    "give at least " + LEAST_ROWS);
        }
        if (Files.exists(folder) && !Files.exists(folder.resolve(MARK))) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the folder exists and is not of an earlier demo",
                    folder.toString(),
                    "choose another with --out-folder");
        }
        long began = System.nanoTime();
        screen.print(List.of(
                "A coast's tide gauges have moved from an old archive (SQLite) to a new database (H2).",
                "Did every row arrive? Making the two databases in " + folder + " …"));
        DemoData data = new DemoData(folder, rows);
        data.create();
        if (dataOnly) {
            return 0;
        }
        if (cluster) {
            playCluster();
            return 0;
        }
        String old = "sqlite:" + folder.resolve("old.db");
        String fresh = "h2:" + folder.resolve("new");
        String runs = folder.resolve("runs").toString();
        Path drafted = folder.resolve("drafted.yaml");
        deleteEarlier(drafted);
        play("Look at both sides", 0, "survey", "--exact", old);
        play("", 0, "survey", "--exact", fresh);
        play(
                "Have a job file drafted: what belongs together, by names and by contents, with every doubt marked",
                0,
                "draft",
                old,
                fresh,
                "--out",
                drafted.toString());
        play(
                "Cheap totals first: counts and sums, worked out in the databases",
                1,
                "totals",
                "--job",
                folder.resolve(MARK).toString(),
                "--table",
                "reading",
                "--by",
                "taken_at:year",
                "--figure",
                "rows,filled,sum",
                "--runs",
                runs);
        play(
                "Compare every row. " + MARK + " says that table instrument is called gauge now",
                1,
                "compare",
                "--job",
                folder.resolve(MARK).toString(),
                "--runs",
                runs);
        play("See what differs: old value beside new", 0, "show", "--limit", "24", "--runs", runs);
        play("In which columns, and what most likely made it", 0, "show", "--view", "columns", "--runs", runs);
        play("What these rows have in common, and the others have not", 0, "show", "--view", "common", "--runs", runs);
        play(
                "A page to keep and to hand on",
                0,
                "report",
                "--out-folder",
                folder.resolve("report").toString(),
                "--runs",
                runs);
        play("Lag, or loss? Look again, at these rows alone", 1, "recheck", "--runs", runs);
        play("Write the script that fixes it, and the one that takes it back", 0, "script", "--runs", runs);
        String jobFile = folder.resolve(MARK).toString();
        String gap = folder.resolve("gap.jsonl").toString();
        play(
                "Or choose: the gap in the readings alone …",
                0,
                "show",
                "--table",
                "reading",
                "--kind",
                "missing",
                "--save-selection",
                gap,
                "--runs",
                runs);
        play(
                "… carried over from here, in one transaction",
                1,
                "apply",
                "--job",
                jobFile,
                "--selection",
                gap,
                "--yes",
                "--runs",
                runs);
        play("Then all the rest", 0, "apply", "--job", jobFile, "--yes", "--runs", runs);
        play(
                "Compare again and see nothing left",
                0,
                "compare",
                "--job",
                folder.resolve(MARK).toString(),
                "--runs",
                runs);
        play(
                "What became of it from run to run",
                0,
                "history",
                "--job",
                folder.resolve(MARK).toString(),
                "--runs",
                runs);
        String sums = folder.resolve("reading.sums").toString();
        play(
                "When one side can't be reached from the other: checksums of key ranges in a small file …",
                0,
                "checksum",
                old + "#reading",
                "--range-rows",
                "20000",
                "--out",
                sums);
        play(
                "… carried over, and compared with the table there, which is fixed by now",
                0,
                "checksum",
                fresh + "#reading",
                "--against",
                sums);
        playFiles(fresh, data.extractFrom(), runs);
        play(
                "Other names, units, keys and ways to write a value: moved.yaml shows every kind of match and rule",
                1,
                "compare",
                "--job",
                folder.resolve("moved.yaml").toString(),
                "--runs",
                runs);
        screen.print(List.of(
                "",
                screen.style()
                        .paint(
                                "That was the whole path, in "
                                        + Figures.seconds((System.nanoTime() - began) / 1e9)
                                        + ". Databases, runs and scripts are in " + folder + ".",
                                Meaning.HEADING)));
        return 0;
    }

    /** A table of a lake against the archive, by the executors of a cluster. */
    private void playCluster() {
        Path lake = new DemoLake(folder).create();
        String runs = folder.resolve("runs").toString();
        try (OwnCluster own = OwnCluster.start(2, folder, System.getenv())) {
            play(
                    "The readings were copied to a lake as well. Its cluster compares them, on two workers that were just started",
                    1,
                    "compare",
                    "--on",
                    own.master(),
                    "spark:" + lake,
                    "sqlite:" + folder.resolve("old.db") + "#reading",
                    "--leave-out-column",
                    "pressure_hpa,remark",
                    "--workers",
                    "2",
                    "--runs",
                    runs);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        play("The run is one like any other", 0, "show", "--limit", "8", "--runs", runs);
    }

    /** Files and backups are compared by the same commands. */
    private void playFiles(String fresh, long from, String runs) {
        play(
                "An extract was made as CSV, by hand. Is it what the database holds, from key " + from + " on?",
                1,
                "compare",
                fresh + "#reading",
                "csv:" + folder.resolve("extract.csv") + "#reading",
                "--if",
                "id >= " + from,
                "--runs",
                runs);
        play("Each finding tells its line", 0, "show", "--runs", runs);
        play(
                "A file is fixed by a new one: all other lines are the same, and the old file stays",
                0,
                "script",
                "--out",
                folder.resolve("extract.fixed.csv").toString(),
                "--runs",
                runs);
        play(
                "Somebody has deleted calibrations. The last backup, a dump in SQL, still has them",
                1,
                "compare",
                "dump:" + folder.resolve("backup.sql"),
                "sqlite:" + folder.resolve("live.db"),
                "--table",
                "calibration",
                "--runs",
                runs);
        play("What was lost, and what is new since", 0, "show", "--limit", "8", "--runs", runs);
        play(
                "Lost and spoilt rows come back; what is new since stays, and so the two still differ",
                1,
                "apply",
                RunFolder.latest(Path.of(runs), run -> true).folder().toString(),
                "--kind",
                "missing,changed",
                "--yes",
                "--runs",
                runs);
        Path known = folder.resolve("known.yaml");
        deleteEarlier(known);
        play(
                "That is as it should be: it is accepted, with a reason and a last day …",
                0,
                "show",
                "--table",
                "calibration",
                "--kind",
                "extra",
                "--accept-into",
                known.toString(),
                "--reason",
                "calibrated after the backup",
                "--until",
                "2099-12-31",
                "--runs",
                runs);
        play(
                "… and from now on told apart, never in silence",
                0,
                "compare",
                "dump:" + folder.resolve("backup.sql"),
                "sqlite:" + folder.resolve("live.db"),
                "--table",
                "calibration",
                "--accepted",
                known.toString(),
                "--runs",
                runs);
    }

    private static void deleteEarlier(Path jobFile) {
        try {
            Files.deleteIfExists(jobFile);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Prints a command as a user would type it, and carries it out. */
    private void play(String title, int expectedCode, String... arguments) {
        screen.print(List.of(""));
        if (!title.isEmpty()) {
            screen.print(List.of(screen.style().paint("== " + title, Meaning.HEADING)));
        }
        screen.print(
                List.of(screen.style().paint("$ sharp-tally " + ShellText.command(arguments), Meaning.COMMAND), ""));
        int code = Main.commandLine(screen, arguments).execute(arguments);
        if (code != expectedCode) {
            throw new ToolException(
                    code == 5 ? ErrorKind.INCOMPLETE : ErrorKind.BUG,
                    "the demo did not go as planned",
                    String.join(" ", arguments) + " ended with " + code + " instead of " + expectedCode,
                    "");
        }
    }
}
