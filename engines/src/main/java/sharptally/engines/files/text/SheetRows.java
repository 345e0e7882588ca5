package sharptally.engines.files.text;

import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellType;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Row;
import org.dhatim.fastexcel.reader.Sheet;
import sharptally.core.rows.Column;
import sharptally.core.types.TimeText;
import sharptally.engines.files.write.Writing;

/** One sheet of a workbook: the first, or the one that is named. Empty cells are NULL; a formula is what was worked out. */
final class SheetRows implements RowsOfFile {
    /** A number whose cell is shown in such a form is a date, or a time. */
    private static final Pattern DATE = Pattern.compile("(?i).*(y|d).*");

    private static final Pattern TIME = Pattern.compile("(?i).*(h|s).*");

    private final Path file;
    private final ReadableWorkbook book;
    private final Stream<Row> stream;
    private final Iterator<Row> rows;
    private final List<String> names;
    private final Map<String, String> facts = new LinkedHashMap<>();
    private Optional<Row> pending;
    private Optional<Row> row;

    SheetRows(Path file, FileForm form) throws IOException {
        this.file = file;
        this.book = new ReadableWorkbook(file.toFile());
        try {
            Sheet sheet = sheet(form.sheet());
            facts.put("sheet", sheet.getName());
            this.stream = sheet.openStream();
            this.rows = stream.iterator();
            this.row = rows.hasNext() ? Optional.of(rows.next()) : Optional.empty();
            Header header = Header.of(file, form, row.map(this::titles).orElse(List.of()));
            this.names = header.names();
            this.pending = header.isRecord() ? Optional.empty() : row;
            facts.put("header", header.isRecord() ? "yes" : "no");
        } catch (IOException | RuntimeException e) {
            book.close();
            throw e;
        }
    }

    private Sheet sheet(Optional<String> wanted) {
        if (wanted.isEmpty()) {
            return book.getFirstSheet();
        }
        return book.findSheet(wanted.get())
                .orElseThrow(() -> FileProblem.of(
                        file,
                        "no sheet of this name: " + wanted.get(),
                        "there are: " + book.getSheets().map(Sheet::getName).collect(Collectors.joining(", "))));
    }

    private List<String> titles(Row first) {
        List<String> titles = new ArrayList<>();
        for (int i = 0; i < first.getCellCount(); i++) {
            titles.add(text(first, i).orElse(""));
        }
        while (!titles.isEmpty() && titles.get(titles.size() - 1).isEmpty()) {
            titles.remove(titles.size() - 1);
        }
        return titles;
    }

    @Override
    public List<String> names() {
        return names;
    }

    @Override
    public Map<String, String> facts() {
        return facts;
    }

    @Override
    public boolean next() {
        do {
            if (pending.isPresent()) {
                row = pending;
                pending = Optional.empty();
            } else if (rows.hasNext()) {
                row = Optional.of(rows.next());
            } else {
                return false;
            }
        } while (isEmpty(row.get()));
        for (int i = names.size(); i < row.get().getCellCount(); i++) {
            if (text(row.get(), i).isPresent()) {
                throw FileProblem.at(file, line(), "a cell stands beyond the last column", "name it, or clear it");
            }
        }
        return true;
    }

    private boolean isEmpty(Row of) {
        for (int i = 0; i < of.getCellCount(); i++) {
            if (text(of, i).isPresent()) {
                return false;
            }
        }
        return true;
    }

    private Optional<String> text(Row of, int field) {
        Optional<Cell> held = of.getOptionalCell(field)
                .filter(c -> c.getType() != CellType.EMPTY)
                .filter(c -> c.getRawValue() != null);
        if (field >= of.getCellCount() || held.isEmpty()) {
            return Optional.empty();
        }
        Cell cell = held.get();
        return switch (cell.getType()) {
            case NUMBER -> Optional.of(number(cell));
            case BOOLEAN -> Optional.of(cell.getRawValue().equals("1") ? "true" : "false");
            case STRING -> Optional.of(String.valueOf(cell.getValue()));
            case ERROR ->
                throw FileProblem.at(
                        file, of.getRowNum(), "a cell holds an error: " + cell.getRawValue(), "mend the formula");
            default -> Optional.of(cell.getRawValue());
        };
    }

    private static String number(Cell cell) {
        String form = Optional.ofNullable(cell.getDataFormatString()).orElse("");
        boolean date = DATE.matcher(form).matches();
        boolean time = TIME.matcher(form).matches();
        if (date || time) {
            LocalDateTime value = cell.asDate();
            if (date && !time) {
                return value.toLocalDate().toString();
            }
            return date ? TimeText.timestamp(value) : value.toLocalTime().toString();
        }
        return new BigDecimal(cell.getRawValue()).stripTrailingZeros().toPlainString();
    }

    @Override
    public long line() {
        return row.orElseThrow().getRowNum();
    }

    @Override
    public List<String> broken() {
        return List.of();
    }

    @Override
    public long lastLine() {
        return line();
    }

    @Override
    public Optional<Writing> writing() {
        return Optional.empty();
    }

    @Override
    public void add(int field, Column into) {
        text(row.orElseThrow(), field).ifPresentOrElse(into::addText, into::addNull);
    }

    @Override
    public void close() {
        try {
            stream.close();
            book.close();
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }
}
