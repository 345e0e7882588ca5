import io.trino.tpch.LineItem;
import io.trino.tpch.LineItemGenerator;
import java.io.PrintStream;

/** Writes the table lineitem of TPC-H as lines for COPY: java -cp TPCH:GUAVA Lineitem.java SCALE. */
final class Lineitem {
    private Lineitem() {}

    public static void main(String[] args) {
        PrintStream out = new PrintStream(new java.io.BufferedOutputStream(System.out, 1 << 20), false);
        for (LineItem row : new LineItemGenerator(Double.parseDouble(args[0]), 1, 1)) {
            out.println(row.toLine().replaceAll("[|]$", ""));
        }
        out.flush();
    }
}
