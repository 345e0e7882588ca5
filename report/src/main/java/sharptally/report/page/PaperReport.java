package sharptally.report.page;

import com.openhtmltopdf.outputdevice.helper.BaseRendererBuilder.FontStyle;
import com.openhtmltopdf.pdfboxout.PdfRendererBuilder;
import com.openhtmltopdf.util.XRLog;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.StringWriter;
import java.util.Locale;
import org.apache.fontbox.ttf.CmapLookup;
import org.apache.fontbox.ttf.TTFParser;
import org.apache.fontbox.ttf.TrueTypeFont;
import org.apache.pdfbox.io.RandomAccessReadBuffer;
import sharptally.report.findings.PageRows;

/**
 * A run as a PDF: tagged, its fonts embedded, without a browser. Letters that the fonts do not have, such as Chinese ones,
 * stand as <code>\\u{4e2d}</code>, so that none is lost without a sign.
 */
public final class PaperReport {
    private static final String FONTS = "/net/sf/jasperreports/fonts/dejavu/";
    private static final String REGULAR = FONTS + "DejaVuSansCondensed.ttf";
    private static final int BOLD = 700;
    private static final int NORMAL = 400;

    private PaperReport() {}

    /** How many findings are on paper, and how many there are. */
    public static PageRows write(Report report, OutputStream out) throws IOException {
        // Nothing is drawn on a screen.
        System.setProperty("java.awt.headless", "true");
        StringWriter page = new StringWriter();
        PageRows found = report.write(Report.Form.PAPER, page);
        XRLog.setLoggingEnabled(false);
        PdfRendererBuilder builder = new PdfRendererBuilder();
        builder.useFont(() -> font(REGULAR), "Tally", NORMAL, FontStyle.NORMAL, true);
        builder.useFont(() -> font(FONTS + "DejaVuSansCondensed-Bold.ttf"), "Tally", BOLD, FontStyle.NORMAL, true);
        builder.usePdfUaAccessibility(true);
        builder.withHtmlContent(printable(page.toString()), null);
        builder.toStream(out);
        builder.run();
        return found;
    }

    private static InputStream font(String name) {
        InputStream font = PaperReport.class.getResourceAsStream(name);
        if (font == null) {
            throw new IllegalStateException("the program is not whole: " + name + " is missing");
        }
        return font;
    }

    /** The text in letters that the fonts have. */
    private static String printable(String text) throws IOException {
        try (InputStream in = font(REGULAR);
                TrueTypeFont font = new TTFParser().parse(new RandomAccessReadBuffer(in))) {
            CmapLookup letters = font.getUnicodeCmapLookup();
            StringBuilder shown = new StringBuilder(text.length());
            text.codePoints().forEach(c -> {
                if (c < 0x7F || letters.getGlyphId(c) != 0) {
                    shown.appendCodePoint(c);
                } else {
                    shown.append(String.format(Locale.ROOT, "\\u{%x}", c));
                }
            });
            return shown.toString();
        }
    }
}
