package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;

/** Values of 60 MB (20 in a usual run of the tests) pass through every command that needs them, with the memory that the program takes by itself. */
@InTurn(1)
class LargeValuesTest {
    private static final int BYTES = Boolean.getBoolean("sharptally.all") ? 60_000_000 : 20_000_000;

    @TempDir
    Path folder;

    private static String bytes(Kind kind, String first) {
        return kind == Kind.POSTGRESQL
                ? "decode(repeat('" + first + "', " + BYTES + "), 'hex')"
                : "CAST(printf('%.*c', " + BYTES + ", x'" + first + "') AS BLOB)";
    }

    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"POSTGRESQL", "SQLITE"})
    void largeValuesAreComparedShownAndApplied(Kind kind) throws Exception {
        Tool tool = Tool.apart(folder);
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        String type = kind == Kind.POSTGRESQL ? "bytea" : "BLOB";
        for (Database database : new Database[] {source, target}) {
            database.execute(
                    "CREATE TABLE scan (id INTEGER PRIMARY KEY, image " + type + ")",
                    "INSERT INTO scan VALUES (1, " + bytes(kind, "31") + ")",
                    "INSERT INTO scan VALUES (2, " + bytes(kind, database == source ? "32" : "33") + ")");
        }
        source.execute("INSERT INTO scan VALUES (3, " + bytes(kind, "34") + ")");

        Tool.Result compared = tool.run("compare", source.address(), target.address(), "--method", "stream");
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(compared.out()).containsPattern("scan +3 +2 +1 +1 +1 +0");
        Tool.Result shown = tool.run("show");
        assertThat(shown.out()).contains("changed", "missing", "image", "…").hasSizeLessThan(5_000);
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isZero();
        String sums = kind == Kind.POSTGRESQL ? "md5(image)" : "hex(substr(image, 1, 8)) || length(image)";
        assertThat(target.values("SELECT " + sums + " FROM scan ORDER BY id"))
                .isEqualTo(source.values("SELECT " + sums + " FROM scan ORDER BY id"))
                .hasSize(3);
    }
}
