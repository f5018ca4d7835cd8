"""Writes the small workbooks that the tests read: python3 data-raw/make-fixtures.py (from the root of the repository)."""
import zipfile

FOLDER = "tests/testthat/fixtures/"
STAMP = (2031, 1, 1, 0, 0, 0)


def packed(name, files):
    with zipfile.ZipFile(FOLDER + name, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, text in files.items():
            archive.writestr(zipfile.ZipInfo(path, STAMP), text)


def sheet(rows, merged=""):
    """Cells: numbers, text, ("date", serial), ("formula", formula, value), None."""
    lines = []
    for i, row in enumerate(rows, 1):
        cells = []
        for j, value in enumerate(row):
            at = "%s%d" % (chr(65 + j), i)
            if value is None:
                continue
            if isinstance(value, tuple) and value[0] == "date":
                cells.append('<c r="%s" s="1"><v>%s</v></c>' % (at, value[1]))
            elif isinstance(value, tuple):
                cells.append('<c r="%s"><f>%s</f><v>%s</v></c>' % (at, value[1], value[2]))
            elif isinstance(value, str):
                cells.append('<c r="%s" t="inlineStr"><is><t>%s</t></is></c>' % (at, value))
            else:
                cells.append('<c r="%s"><v>%s</v></c>' % (at, value))
        lines.append('<row r="%d">%s</row>' % (i, "".join(cells)))
    return ('<?xml version="1.0" encoding="UTF-8"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>%s</sheetData>%s</worksheet>'
            % ("".join(lines), merged))


def workbook(name, sheets):
    main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
    office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
    files = {
        "[Content_Types].xml": '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/>%s</Types>'
        % "".join('<Override PartName="/xl/worksheets/sheet%d.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/>' % (k + 1) for k in range(len(sheets))),
        "_rels/.rels": '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="%s/officeDocument" Target="xl/workbook.xml"/></Relationships>' % office,
        "xl/workbook.xml": '<?xml version="1.0"?><workbook xmlns="%s" xmlns:r="%s"><sheets>%s</sheets></workbook>'
        % (main, office, "".join('<sheet name="%s" sheetId="%d" r:id="rId%d"/>' % (title, k + 1, k + 1) for k, title in enumerate(sheets))),
        "xl/_rels/workbook.xml.rels": '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">%s<Relationship Id="rId99" Type="%s/styles" Target="styles.xml"/></Relationships>'
        % ("".join('<Relationship Id="rId%d" Type="%s/worksheet" Target="worksheets/sheet%d.xml"/>' % (k + 1, office, k + 1) for k in range(len(sheets))), office),
        "xl/styles.xml": '<?xml version="1.0"?><styleSheet xmlns="%s"><fonts count="1"><font/></fonts><fills count="1"><fill/></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="2"><xf numFmtId="0"/><xf numFmtId="14" applyNumberFormat="1"/></cellXfs></styleSheet>' % main,
    }
    for k, text in enumerate(sheets.values()):
        files["xl/worksheets/sheet%d.xml" % (k + 1)] = text
    packed(name, files)


workbook("survey.xlsx", {
    "Answers": sheet([["q", "n", "mixed", "when", "code", "free"],
                      [1, 5, 10, ("date", 47849), "007", "x"],
                      [2, ("formula", "B2*2", 10), "11", ("date", 47850), "012", None],
                      [-9, 7.5, 12, None, "3", "y"],
                      [None, None, None, None, None, None],
                      [1, 2, 13, ("date", 47851), "4", "z"]]),
    "Notes": sheet([["key", "value"], ["made", "up"]]),
})
workbook("merged.xlsx", {"Sheet": sheet([["Block", None, "c"], [1, 2, 3]], '<mergeCells count="1"><mergeCell ref="A1:B1"/></mergeCells>')})

cell = '<table:table-cell office:value-type="%s" %s><text:p>%s</text:p></table:table-cell>'
number = lambda x: cell % ("float", 'office:value="%s"' % x, x)
text = lambda x: cell % ("string", "", x)
rows = ["".join(map(text, ["q", "n", "free"])), number(1) + number(5) + text("x"), number(2) + number(10) + text("y")]
packed("survey.ods", {
    "mimetype": "application/vnd.oasis.opendocument.spreadsheet",
    "content.xml": '<?xml version="1.0" encoding="UTF-8"?><office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:spreadsheet><table:table table:name="Answers">%s<table:table-row table:number-rows-repeated="2">%s</table:table-row><table:table-row table:number-rows-repeated="1048000"><table:table-cell table:number-columns-repeated="16384"/></table:table-row></table:table></office:spreadsheet></office:body></office:document-content>'
    % ("".join("<table:table-row>%s<table:table-cell table:number-columns-repeated=\"16381\"/></table:table-row>" % row for row in rows), number(1) + '<table:table-cell/>' + text("z")),
})
packed("two.zip", {"a.csv": "q\n1\n", "b.csv": "q\n2\n"})
packed("one.zip", {"d.csv": "q,n\n1,5\n2,6\n"})
with zipfile.ZipFile(FOLDER + "zeros.zip", "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
    zeros = zipfile.ZipInfo("zeros.csv", STAMP)
    zeros.compress_type = zipfile.ZIP_DEFLATED
    with archive.open(zeros, "w", force_zip64=True) as member:
        for _ in range(64):
            member.write(b"0" * 2**20)
