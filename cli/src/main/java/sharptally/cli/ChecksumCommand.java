package sharptally.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.api.job.Context;
import sharptally.api.job.checksum.ChecksumJob;
import sharptally.api.job.checksum.ColumnTypes;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.QuietChoice;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.place.Endpoint;
import sharptally.formats.checksum.ChecksumFile;
import sharptally.report.text.ChecksumText;

@Command(
        name = "checksum",
        description = {
            "Rows and checksum of each key range of a table.",
            "To look at, to keep in a file, or to compare with such a file of another database or day."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:done; with --against: same",
            "1:ranges differ from the file's",
            "2:bad usage or file",
            "3:the database can't be read",
            "5:stopped, or a column that can't be read"
        },
        footer = {"", "Example: sharp-tally checksum sqlite:old.db#reading --out reading.sums"})
final class ChecksumCommand implements Callable<Integer> {
    private final Screen screen;

    @Parameters(index = "0", paramLabel = "DATABASE#TABLE", description = "The table.")
    String place = "";

    @Option(
            names = "--key",
            split = ",",
            paramLabel = "COLUMN",
            description = {"Key columns. Default: primary or unique key.", "With --against, those of the file."})
    List<String> key = List.of();

    @Option(
            names = "--leave-out-column",
            split = ",",
            paramLabel = "COLUMN",
            description = {"Not these columns; * any letters, type:TYPE.", "Not with --against, whose file says it."})
    List<String> leaveOut = List.of();

    @Option(names = "--where", paramLabel = "SQL", description = "Only rows that meet this, in SQL.")
    Optional<String> where = Optional.empty();

    @Option(
            names = "--like",
            paramLabel = "TABLE",
            description = {
                "Read the columns of a file as this table's types.",
                "DATABASE#TABLE, or a checksum file of the table. Without it, the columns of a file are text."
            })
    Optional<String> like = Optional.empty();

    @Option(
            names = "--range-rows",
            paramLabel = "N",
            defaultValue = "10000",
            description = "Rows of a range, about. Default: ${DEFAULT-VALUE}.")
    long rangeRows = 10_000;

    @Option(names = "--out", paramLabel = "FILE", description = "Write the checksums to this file.")
    Optional<Path> out = Optional.empty();

    @Option(names = "--against", paramLabel = "FILE", description = "Tell which ranges of this file differ here.")
    Optional<Path> against = Optional.empty();

    @Option(
            names = "--export-rows",
            paramLabel = "FILE",
            description = {
                "With --against: those rows into a SQLite file.",
                "The rows of ranges that differ, to be compared with such a file of the other side."
            })
    Optional<Path> exportRows = Optional.empty();

    @Mixin
    FormatChoice format = new FormatChoice();

    @Mixin
    QuietChoice quiet = new QuietChoice();

    ChecksumCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        check();
        quiet.check("checksum", format.isJson(), "--format json");
        Endpoint access = Connections.ofUser().resolve(place);
        String table = access.label()
                .table()
                .or(() -> ChecksumJob.soleTable(access))
                .orElseThrow(() ->
                        usage("which table?", place, "write the address with #table, such as sqlite:old.db#reading"));
        var result = new ChecksumJob(
                        access,
                        table,
                        key,
                        leaveOut.stream().map(ColumnChoice::new).toList(),
                        where,
                        like.map(this::types),
                        rangeRows,
                        against.map(ChecksumFile::read),
                        exportRows)
                .run(Context.ofProcess(Version.current()), Interrupt::asked);
        out.ifPresent(file -> result.here().write(file));
        int code = result.differing().isEmpty() ? 0 : 1;
        if (format.isJson()) {
            return against.isPresent()
                    ? JsonResult.compared(screen, "checksum", code, result)
                    : JsonResult.done(screen, "checksum", code, result);
        }
        if (quiet.quiet) {
            screen.print(
                    List.of(ChecksumText.verdict(result.here(), result.there(), result.differing(), screen.style())));
        } else {
            screen.print(ChecksumText.lines(
                    result.here(),
                    result.there(),
                    result.differing(),
                    result.remarks(),
                    screen.style(),
                    screen.columns()));
            out.ifPresent(file -> screen.print(List.of("written to " + file)));
        }
        return code;
    }

    private ColumnTypes types(String of) {
        Path file = Path.of(of);
        if (Files.isRegularFile(file)) {
            return ColumnTypes.of(ChecksumFile.read(file));
        }
        Endpoint access = Connections.ofUser().resolve(of);
        return ColumnTypes.of(
                access,
                access.label()
                        .table()
                        .or(() -> ChecksumJob.soleTable(access))
                        .orElseThrow(() -> usage(
                                "which table?", of, "write the address with #table, such as sqlite:old.db#reading")));
    }

    private void check() {
        if (rangeRows < 1) {
            throw usage("--range-rows should be 1 or more, not " + rangeRows, "checksum", "");
        }
        if (exportRows.isPresent() && against.isEmpty()) {
            throw usage("rows are exported of ranges that differ", "--export-rows", "give --against FILE as well");
        }
        if (against.isPresent() && like.isPresent()) {
            throw usage(
                    "the file of --against says what columns are read as",
                    against.get().toString(),
                    "leave out --like");
        }
        if (against.isPresent() && !(leaveOut.isEmpty() && where.isEmpty())) {
            throw usage(
                    "the file of --against says which columns and rows count",
                    against.get().toString(),
                    "leave out --leave-out-column and --where");
        }
    }

    private static ToolException usage(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }
}
