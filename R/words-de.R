# The German catalogue: the printed table, its cautions and the paragraph. What it lacks is said in English.

words_de <- list( # nolint: cyclocomp_linter. A list of sentences.
  # ---- how things are written ----
  percent_sign = "\u00a0%",
  quoted = function(text) sprintf("\u201e%s\u201c", text),
  interval = function(low, high) sprintf("%s bis %s", low, high),
  and_more = function(shown, more) sprintf("%s und %d weitere", shown, more),

  # ---- why records are left out ----
  reason.no_answer = function(detail) "keine Angabe",
  reason.outside = function(detail) sprintf("erf\u00fcllt nicht die Bedingung %s", detail),
  reason.cannot_tell = function(detail) sprintf("unbekannt, ob %s", detail),
  reason.no_weight = function(detail) "kein Gewicht",
  reason.no_count = function(detail) "keine Anzahl",
  reason.no_stratum = function(detail) "keine Schicht",
  reason.no_cluster = function(detail) "kein Klumpen",
  reason.no_replicate_weight = function(detail) "kein Replikationsgewicht",
  reason.zero_weight = function(detail) "Gewicht 0",
  reason.zero_count = function(detail) "Anzahl 0",
  reason.another_record = function(detail) "anderer Datensatz derselben Person",
  reason.no_record_meets = function(detail) sprintf("kein Datensatz der Person erf\u00fcllt %s", detail),

  # ---- why there is no test ----
  nobody_here = "in dieser Tabelle ist niemand",
  single_answer = "eine der beiden Fragen hat hier nur eine Antwort, es gibt also nichts zu vergleichen",
  no_df = "der Stichprobenplan hat hier keine Freiheitsgrade: es gibt nicht mehr Klumpen als Schichten",
  no_item_differs = paste("kein Punkt wurde von einem Teil der Befragten angekreuzt und vom anderen nicht, es gibt",
                          "also nichts zu vergleichen"),
  no_change = "alle haben beide Male dasselbe geantwortet, es gibt also keine Ver\u00e4nderung zu pr\u00fcfen",

  # ---- why a test is the headline ----
  why_design = paste("die Daten gewichtet sind oder einen Stichprobenplan haben, den dieser Test ber\u00fccksichtigt;",
                     "seine Freiheitsgrade sind f\u00fcr die Zahl der Klumpen korrigiert"),
  why_asked = "er verlangt wurde",
  why_sparse = "die erwarteten H\u00e4ufigkeiten f\u00fcr Chi-Quadrat zu klein sind",
  why_plain = paste("es weder Gewichte noch einen Stichprobenplan gibt und die erwarteten H\u00e4ufigkeiten gro\u00df",
                    "genug sind"),
  why_paired = paste("dieselbe Frage zweimal gestellt wurde und zu pr\u00fcfen ist, ob Antworten in beide Richtungen",
                     "gleich oft wechselten"),
  why_items_together = "mehrere Punkte angekreuzt werden konnten, die dieser Test zusammen betrachtet",
  reference_only = "nur zum Vergleich: als w\u00e4ren die Befragten eine einfache Zufallsstichprobe",
  items_together = function(left_out) {
    if (left_out == 0) "alle Punkte zusammen" else
      sprintf("alle Punkte zusammen; %d ausgelassen, von allen oder niemandem angekreuzt", left_out)
  },

  # ---- measures of strength ----
  tied_mode = "die h\u00e4ufigste Antwort ist nicht eindeutig, daher gibt es keinen Standardfehler",
  se_zero_no_gain = "eine Antwort zu kennen verbessert die Vorhersage der anderen nicht",
  no_gain = function(knowing) sprintf("%s zu kennen verbessert die Vorhersage nicht", knowing),
  too_sparse_for_interval = "die Tabelle ist f\u00fcr sein Intervall zu d\u00fcnn besetzt",
  strength_per_item = "die St\u00e4rke steht bei jedem Punkt",

  # ---- cautions ----
  severity.stop = "Halt",
  severity.care = "Vorsicht",
  severity.note = "Hinweis",
  no_test = function(reason) sprintf("Kein Test: %s.", in_words(reason)),
  sparse = function(small, cells, limit, least, rule, exact) {
    sprintf("D\u00fcnn besetzte Tabelle: %d von %d erwarteten H\u00e4ufigkeiten %s unter %s, die kleinste ist %s. %s",
            small, cells, plural(small, "liegt", "liegen"), format_number(limit, 0L), format_number(least, 1L),
            if (exact)
              paste("Der exakte Test tritt an die Stelle von Chi-Quadrat; Zusammenhangsma\u00dfe und Residuen sind",
                    "N\u00e4herungen.") else "Der p-Wert kann falsch sein; Antworten zusammenfassen.")
  },
  small_base = function(answers, n, limit) {
    sprintf("Prozente von weniger als %d Befragten: %s. Nicht f\u00fcr sich allein berichten.", limit,
            bases_words(answers, n))
  },
  low_base = function(answers, n, from, to) {
    sprintf("Prozente von nur %d bis %d Befragten: %s. Mit ihren Intervallen lesen.", from, to,
            bases_words(answers, n))
  },
  whole_table = "die ganze Tabelle",
  tiny_effect = function(v, n) {
    sprintf(paste("Statistisch signifikant, aber schwach: Cram\u00e9rs V ist %s. Bei %s Befragten kann selbst ein",
                  "bedeutungsloser Unterschied signifikant sein; ob er z\u00e4hlt, zeigen die Prozente."),
            format_strength(v), format_count(n))
  },
  not_significant = function(power, v, high) {
    first <- if (v >= 1) "diese Tabelle ist zu klein, um auch nur einen vollkommenen Zusammenhang sicher zu zeigen" else
      sprintf("mit einer Testst\u00e4rke von %s h\u00e4tte diese Tabelle einen Zusammenhang von V = %s gezeigt",
              percent_words(power, 0L), strength_words(v))
    sprintf("Nicht signifikant hei\u00dft nicht \u201ekein Unterschied\u201c: %s%s.", first,
            if (is.na(high)) "" else
              sprintf("; das Intervall von V reicht bis %s", strength_words(high)))
  },
  few_clusters = function(df, d) {
    sprintf(paste("Der Stichprobenplan hat %s %s f\u00fcr einen Test mit %d: p-Wert und Intervalle sind grob.",
                  "Antworten zusammenfassen oder weniger berichten."), format_df(df),
            plural(df, "Freiheitsgrad", "Freiheitsgrade"), d)
  },
  single_cluster = function(strata, treated) {
    sprintf("%s %s nur einen Klumpen (%s). %s; mit einer \u00e4hnlichen Schicht zusammenlegen.",
            format_count(length(strata)), plural(length(strata), "Schicht hat", "Schichten haben"),
            list_words(strata, 3L),
            c(centre = "Er wird um das Mittel aller Klumpen zentriert, was die Varianz eher zu gro\u00df macht",
              zero = "Er tr\u00e4gt nichts zur Varianz bei, was sie zu klein macht")[[treated]])
  },
  unequal_weights = function(n, effective) {
    sprintf(paste("Sehr ungleiche Gewichte: die %s Befragten sagen so viel wie etwa %s gleich gewichtete. Tests und",
                  "Intervalle ber\u00fccksichtigen das; die gr\u00f6\u00dften Gewichte pr\u00fcfen."), format_count(n),
            format_count(effective))
  },
  empty_category = function(question, answers) {
    sprintf("Niemand hat bei %s %s geantwortet; der Test l\u00e4sst %s aus.", question, list_words(quoted(answers)),
            plural(length(answers), "diese Antwort", "diese Antworten"))
  },
  tick_all = function(question, example) {
    sprintf(paste("Die Antworten auf %s sehen wie mehrere zusammengefasste Kreuze aus (%s). Als eine Antwort getestet,",
                  "gilt jede Kombination als eine Art Mensch: eine Mehrfachfrage daraus machen."), quoted(question),
            quoted(example))
  },
  repeated_ids = function(ids, records, differing) {
    sprintf("%s %s mehrfach vor (%s Datens\u00e4tze).%s Erst einen Datensatz je Person behalten, dann testen.",
            format_count(ids), plural(ids, "Kennung kommt", "Kennungen kommen"), format_count(records),
            if (!differing) "" else
              sprintf(" %s davon mit verschiedenen Antworten: eine Person wird mehrmals gez\u00e4hlt.",
                      format_count(differing)))
  },
  left_out = function(records, asked, reason, question, detail) {
    sprintf(paste("%s von %s Datens\u00e4tzen (%s) fehlen, weil eine Antwort oder ein Gewicht fehlt, am",
                  "h\u00e4ufigsten \u201e%s\u201c. Unterscheiden sie sich vom Rest, ist die Tabelle verzerrt."),
            format_count(records), format_count(asked), percent_words(records / asked, 0L),
            reason_words(reason, question, detail))
  },
  ticks_add_up = function(questions) {
    sprintf(paste("Bei %s waren mehrere Antworten m\u00f6glich: die Prozente beziehen sich auf die Befragten und",
                  "k\u00f6nnen mehr als 100 ergeben; jeder Punkt wird f\u00fcr sich getestet."),
            paste(quoted(questions), collapse = " und "))
  },
  against_explains = function(explaining, explained, fair, shown) {
    names <- c(column = "Spaltenprozente", row = "Zeilenprozente", total = "Gesamtprozente")
    sprintf(paste("Die Prozente laufen in die andere Richtung: %s soll %s erkl\u00e4ren, also %s vergleichen; dies",
                  "sind %s."), explaining, explained, names[[fair]], names[[shown]])
  },
  nested_clusters = function(clusters) {
    sprintf("%d %s in mehreren Schichten vor (%s) und z\u00e4hlt in jeder als eigener Klumpen.", length(clusters),
            plural(length(clusters), "Klumpenname kommt", "Klumpennamen kommen"), list_words(clusters, 3L))
  },
  kept_total = function(answers) {
    sprintf("Wie eine Summe benannt, aber als Antwort behalten, weil sie nicht aufgeht: %s.", list_words(answers))
  },
  kept_sum = function(answers) {
    sprintf(paste("Als Antwort behalten, obwohl es die Summe der anderen ist: %s. Wenn es eine Summe ist, sind alle",
                  "doppelt gez\u00e4hlt: als Summe benennen oder weglassen."), list_words(answers))
  },

  # ---- the table ----
  title = function(down, across) sprintf("%s nach %s", down, across),
  base.column = function(question, ticks) {
    sprintf("Spaltenprozente: je %s %s", if (ticks) "angekreuztem Punkt bei" else "Antwort auf", question)
  },
  base.row = function(question, ticks) {
    sprintf("Zeilenprozente: je %s %s", if (ticks) "angekreuztem Punkt bei" else "Antwort auf", question)
  },
  base.total = function(question, ticks) "Prozente aller Befragten der Tabelle",
  weighted_by = function(text, weight) sprintf("%s, gewichtet mit %s", text, weight),
  brief.sparse = function(small, cells, limit, least, rule, exact) {
    sprintf("D\u00fcnn besetzt: %d von %d erwarteten H\u00e4ufigkeiten unter %s; %s.", small, cells,
            format_number(limit, 0L), if (exact) "daher der exakte Test" else "der p-Wert kann ungenau sein")
  },
  brief.small_base = function(answers, n, limit) {
    sprintf("Weniger als %d Befragte, nicht f\u00fcr sich zu berichten: %s.", limit, bases_words(answers, n))
  },
  brief.low_base = function(answers, n, from, to) {
    sprintf("Nur %d bis %d Befragte: %s.", from, to, bases_words(answers, n))
  },
  brief.tiny_effect = function(v, n) {
    sprintf("Signifikant, aber schwach (V = %s): bei n = %s sind das auch kleine Unterschiede.", format_strength(v),
            format_count(n))
  },
  brief.unequal_weights = function(n, effective) {
    sprintf("Sehr ungleiche Gewichte: %s Befragte z\u00e4hlen wie etwa %s.", format_count(n), format_count(effective))
  },
  brief.repeated_ids = function(ids, records, differing) {
    sprintf("%s %s mehrfach vor (%s Datens\u00e4tze): nur einen je Person behalten.", format_count(ids),
            plural(ids, "Kennung kommt", "Kennungen kommen"), format_count(records))
  },
  brief.left_out = function(records, asked, reason, question, detail) {
    sprintf("%s von %s Datens\u00e4tzen (%s) fehlen, ohne Antwort oder Gewicht.", format_count(records),
            format_count(asked), percent_words(records / asked, 0L))
  },
  account_brief = function(records, used, left, reasons) {
    sprintf("%s %s: %s in der Tabelle; %s ausgelassen: %s", format_count(records),
            plural(records, "Datensatz", "Datens\u00e4tze"), format_count(used), format_count(left),
            paste(reasons, collapse = ", "))
  },
  account_outside = "nicht in der Basis",
  account_cannot_tell = "unbekannt, ob in der Basis",
  account_no_answer = function(question) sprintf("keine Antwort auf %s", question),
  subdivided = function(question, by) sprintf("%s je %s", by, question),
  base_called = function(base) sprintf("Basis: %s", base),
  base_kept = function(condition, names, labels) {
    sprintf("Basis: Befragte mit %s", condition_in_words(condition, names, labels))
  },
  condition.at_least = function(value) sprintf("%s oder mehr", value),
  condition.more = function(value) sprintf("mehr als %s", value),
  condition.at_most = function(value) sprintf("h\u00f6chstens %s", value),
  condition.less = function(value) sprintf("weniger als %s", value),
  condition.from = function(value) sprintf("ab %s", value),
  condition.above = function(value) sprintf("h\u00f6her als %s", value),
  condition.up_to = function(value) sprintf("bis %s", value),
  condition.below = function(value) sprintf("unter %s", value),
  condition.other = function(value) sprintf("nicht %s", value),
  condition.one_of = function(values) {
    last <- length(values)
    if (last == 1L) values else paste(paste(values[-last], collapse = ", "), "oder", values[last])
  },
  condition.no_answer = "keine Angabe",
  condition.answered = "beantwortet",
  condition.or = function(parts) paste(parts, collapse = ", oder "),
  condition.not = function(part) sprintf("nicht (%s)", part),
  figure.given = "Vorgabe %",
  goodness_rejected = function(figures, alpha) {
    sprintf("Die Antworten weichen von den vorgegebenen Anteilen ab (statistisch signifikant auf dem Niveau %s): %s",
            format_alpha(alpha), figures)
  },
  goodness_not_rejected = function(figures, alpha) {
    sprintf(paste("Kein Hinweis, dass die Antworten von den vorgegebenen Anteilen abweichen (nicht statistisch",
                  "signifikant auf dem Niveau %s): %s"), format_alpha(alpha), figures)
  },
  key_given = function(rule) {
    sprintf("+ mehr, \u2212 weniger Befragte als nach den vorgegebenen Anteilen erwartet (%s)", rule)
  },
  key_given_none = function(rule) sprintf("Keine Antwort weicht von ihrem vorgegebenen Anteil ab (%s)", rule),
  null_given = function(down, across, within) {
    sprintf("dass die Antworten auf %s%s den vorgegebenen Anteilen folgen", down, within)
  },
  rounded_key = function(base) {
    sprintf(paste("H\u00e4ufigkeiten sind auf Vielfache von %s gerundet und summieren sich; Prozente sind aus ihnen",
                  "berechnet"), format_count(base))
  },
  source_line = function(file, dated, sha256, records, weight, stratum, cluster, replicates, version) {
    of_file <- c(if (length(dated)) sprintf("vom %s", dated),
                 if (length(sha256)) paste("SHA-256", substr(sha256, 1L, 12L)))
    parts <- c(if (length(file)) paste0(file, if (length(of_file)) sprintf(" (%s)", paste(of_file, collapse = ", "))),
               if (length(records)) paste(format_count(records), plural(records, "Datensatz", "Datens\u00e4tze")),
               if (length(weight)) paste("Gewicht:", weight), if (length(stratum)) paste("Schichten:", stratum),
               if (length(cluster)) paste("Klumpen:", cluster),
               if (length(replicates)) paste("Replikationsgewichte:", replicates))
    sprintf("Quelle: %s. Erstellt mit Fair Lattice %s.", paste(parts, collapse = "; "), version)
  },
  line.all = "Alle",
  line.total = "Summe",
  line.respondents = "Befragte",
  line.weighted = "Gewichtete Basis",
  line.effective = "Effektive Basis",
  line.mean = "Mittelwert",
  line.sd = "Standardabweichung",
  line.q1 = "Unteres Quartil",
  line.median = "Median",
  line.q3 = "Oberes Quartil",
  base.none = function(question, ticks) "Anzahl der Befragten",
  base.mean = function(question, ticks) sprintf("Mittelwerte und Quartile: jede Antwort auf %s", question),
  base.mean_alone = function(question, ticks) "Mittelwert und Quartile aller Befragten der Tabelle",
  banner_base.column = "Spaltenprozente: jede Antwort auf die Frage \u00fcber der Spalte",
  banner_base.row = "Zeilenprozente: jede Antwort auf die Frage am Rand",
  banner_base.total = "Prozente aller Befragten jeder Tabelle",
  banner_base.none = "Anzahl der Befragten",
  block_line = function(block, line) sprintf("%s: %s", block, line),
  banner_key = function(rules) {
    sprintf("+ mehr, \u2212 weniger Befragte als bei Unabh\u00e4ngigkeit zu erwarten (%s)",
            paste(rules, collapse = "; "))
  },
  block_left_out = function(block, n) {
    sprintf("%s: %s dieser Befragten ausgeschlossen, die darauf nicht geantwortet haben", block, format_count(n))
  },
  by_itself = function(questions) sprintf("%s: nicht gegen sich selbst gestellt.", list_words(quoted(questions))),
  figure.column = "Spalten-%",
  figure.row = "Zeilen-%",
  figure.total = "% aller",
  figure.n = "n",
  figure.weighted = "n gewichtet",
  figure.cumulative = "kumuliert %",
  figure.difference = "Differenz",
  figure.difference_interval = function(alpha) sprintf("ihr %s-KI", confidence_words(alpha)),
  figure.percent = "%",
  figure.interval = function(alpha) sprintf("%s-KI", confidence_words(alpha)),
  figure.expected = "erwartet",
  figure.residual = "Residuum",
  figure.pearson = "Pearson-Residuum",
  figure.adjusted = "adjustiertes Residuum",
  figure.contribution = "Beitrag zu X\u00b2",
  other_pattern = "^(sonstige|andere|keine davon|wei\u00df nicht)",
  withheld_key = function(limit) {
    sprintf("[c] geheim gehalten: unter %s Befragte, oder eine solche Zelle w\u00e4re daraus zu errechnen",
            format_count(limit))
  },
  hidden_key = function(limit) {
    sprintf("* Prozente von weniger als %s Befragten werden nicht gezeigt", format_count(limit))
  },
  against.rest = "den \u00dcbrigen",
  against.total = "allen",
  higher = "h\u00f6her",
  lower = "niedriger",
  means_different = function(figures, alpha) {
    sprintf("Die Mittelwerte unterscheiden sich (statistisch signifikant auf dem Niveau %s): %s", format_alpha(alpha),
            figures)
  },
  means_not_different = function(figures, alpha) {
    sprintf("Kein Beleg f\u00fcr verschiedene Mittelwerte (nicht signifikant auf dem Niveau %s): %s",
            format_alpha(alpha),
            figures)
  },
  null_means = function(down, across, within) {
    sprintf("dass die Mittelwerte von %s f\u00fcr alle Antworten auf %s gleich sind%s", down, across, within)
  },
  no_evidence_means = "Das ist kein Beleg daf\u00fcr, dass die Mittelwerte gleich sind.",
  test.equal_means = "Test auf gleiche Mittelwerte",
  peak_key = function(row) sprintf("^ der gr\u00f6\u00dfte Anteil seiner %s", if (row) "Zeile" else "Spalte"),
  marking_rule = function(critical, correction, cells, alpha) {
    sprintf("adjustiertes Residuum jenseits von \u00b1%s; %s; Niveau %s", format_number(critical),
            if (cells == 1) "keine Korrektur: ein Vergleich" else
              sprintf("%s \u00fcber %d Zellen", name_of("correction", correction), cells), format_alpha(alpha))
  },
  key_marked = function(rule) {
    sprintf("+ mehr, \u2212 weniger Befragte als erwartet, wenn beide unabh\u00e4ngig w\u00e4ren (%s)", rule)
  },
  key_spread = function(rule) {
    sprintf("Keine einzelne Zelle ist markiert (%s): der Zusammenhang verteilt sich auf viele Zellen", rule)
  },
  key_none = function(rule) {
    sprintf("Keine Zelle weicht von dem ab, was bei Unabh\u00e4ngigkeit zu erwarten w\u00e4re (%s)", rule)
  },
  no_test_line = function(reason) sprintf("Kein Test: %s", in_words(reason)),
  associated = function(figures, alpha) {
    sprintf("Die beiden h\u00e4ngen zusammen (statistisch signifikant auf dem Niveau %s): %s", format_alpha(alpha),
            figures)
  },
  not_associated = function(figures, alpha) {
    sprintf("Kein Beleg f\u00fcr einen Zusammenhang (nicht signifikant auf dem Niveau %s): %s", format_alpha(alpha),
            figures)
  },
  trend_found = function(figures, scores) sprintf("Linearer Trend: %s (%s)", figures, scores),
  trend_not_found = function(figures, scores) {
    sprintf("Kein Beleg f\u00fcr einen linearen Trend: %s (%s)", figures, scores)
  },
  reference_line = function(figures, weighted) {
    sprintf("Nur zum Vergleich (%sohne Stichprobenplan): %s", if (weighted) "gewichtete Prozente, " else "", figures)
  },
  ci = function(alpha, low, high) {
    sprintf("%s-KI %s", confidence_words(alpha), interval_words(low, high, format_strength))
  },
  no_ci = function(reason) sprintf("kein Intervall: %s", reason),
  explaining = function(explaining, explained) sprintf("%s erkl\u00e4rt %s", explaining, explained),
  in_this_table = function(n) sprintf("%s %s in dieser Tabelle.", format_count(n), plural(n, "Person", "Befragte")),
  account_whole = function(records, several) {
    sprintf("%s %s gelesen, alle in %s", format_count(records), plural(records, "Datensatz", "Datens\u00e4tze"),
            if (several) "den Tabellen" else "der Tabelle")
  },
  account_parts = function(records, used, left, reasons, several) {
    sprintf("%s %s gelesen: %s in %s, %s ausgelassen: %s", format_count(records),
            plural(records, "Datensatz", "Datens\u00e4tze"), format_count(used),
            if (several) "den Tabellen" else "der Tabelle", format_count(left), paste(reasons, collapse = "; "))
  },
  account_counts = function(n, cells) {
    sprintf("%s %s in %s %s gez\u00e4hlt", format_count(n), plural(n, "Person", "Befragte"), format_count(cells),
            plural(cells, "Zelle", "Zellen"))
  },
  account_totals = function(totals) sprintf("als Summen beiseitegelegt: %s", paste(totals, collapse = "; ")),
  account_effective = function(n) sprintf("effektive Basis %s", format_count(n)),
  more_than_expected = "mehr als erwartet",
  fewer_than_expected = "weniger als erwartet",
  largest_of_line = "gr\u00f6\u00dfter Anteil",
  workbook.contents = "Inhalt",
  workbook.data = "Daten, eine Zeile je Zelle",
  workbook.live = "Rechnung",
  live_about = function(weighted) {
    paste0("Die unterlegten Zahlen sind eingegeben", if (weighted) ", auch was aus Gewichten und Stichprobenplan kommt",
           "; alles andere wird daraus durch Formeln berechnet. Daneben stehen die Zahlen der Tabelle, wie sie ",
           "erstellt wurde, und der Unterschied.")
  },
  live_counts = "Befragte",
  live_weighted = "Gewichtete Befragte",
  live_effects = "Designeffekte der Residuen",
  live_ours = "Wie erstellt",
  live_difference = "Unterschied",
  live_figures = "Test und St\u00e4rke",
  live_formula = "Durch Formel",
  live_mean_effect = "Mittlerer Designeffekt",
  live_sum_effects = "Summe der Designeffekte",
  live_f_df = "Freiheitsgrade von F",
  live_f_error = "Nennerfreiheitsgrade von F",
  caption_table = "Tabelle",
  caption_figure = "Abbildung",
  continued = "Fortsetzung",
  to_paste = "F\u00fcr den Bericht",
  section.write_up = "F\u00fcr den Bericht",
  tables = "Tabellen",
  several_tables = function(number) sprintf("%d Tabellen", number),
  see = function(remedy) sprintf("Siehe %s.", remedy),
  figure_base = function(n, weight) {
    sprintf("n = %s%s.", format_count(n), if (is.null(weight)) "" else sprintf(", gewichtet mit %s", weight))
  },
  figure_key.shares = function(question, ticks) {
    sprintf("Anteile je Antwort auf %s; Befragte in Klammern.", question)
  },
  figure_key.within = function(question, ticks) sprintf("Anteile je Antwort auf %s.", question),
  figure_key.total = function(question, ticks) "Anteile an allen Befragten.",
  figure_key.n = function(question, ticks) sprintf("Befragte, nach %s.", question),
  figure_key.weighted = function(question, ticks) {
    sprintf("Gewichtete Anzahlen, nach %s; Befragte in Klammern.", question)
  },
  figure_key.balance = function(question, ticks) {
    sprintf("Anteile je Antwort auf %s; fett die Summen links und rechts der Mitte; Befragte in Klammern.", question)
  },
  figure_key.dots = function(question, alpha) {
    sprintf("Anteile je Antwort auf %s, mit Konfidenzintervallen (%s).", question, confidence_words(alpha))
  },
  figure_key.change = function(question, alpha) {
    sprintf("Anteile je Antwort auf %s, mit Konfidenzintervallen (%s).", question, confidence_words(alpha))
  },
  figure_key.mosaic = function(question) {
    sprintf(paste("Breiten: Anteile von %s; H\u00f6hen: Anteile darin. Farbe: adjustiertes Residuum; + mehr,",
                  "\u2212 weniger als erwartet, nach Korrektur markiert."), question)
  },
  figure_key.map = function(share, little) {
    sprintf("Antworten mit \u00e4hnlichem Profil liegen beieinander. Das Bild zeigt %s der Statistik%s.",
            percent_words(share, 0L), if (little) ": das ist wenig, also sind auch die Residuen anzusehen" else "")
  },
  figure_axis = function(axis, share) sprintf("Achse %d (%s der Statistik)", axis, percent_words(share, 0L)),
  page.show = "Zeigen",
  page.published = "Wie ver\u00f6ffentlicht",
  page.percentages_of = "Basis",
  page.shade = "F\u00e4rben nach",
  page.no_shade = "Nichts",
  page.turn = "Tabelle drehen",
  page.sort = "Sortieren nach",
  page.as_asked = "Wie ver\u00f6ffentlicht",
  page.copy = "Kopieren",
  page.copied = "Kopiert: in ein Dokument oder ein Tabellenblatt einf\u00fcgen.",
  page.tools = "Andere Ansichten dieser Tabelle",
  page.hint = paste("Auf eine Zelle zeigen oder tippen, oder mit Tabulator und Pfeiltasten durch die Tabelle gehen,",
                    "um zu sehen, woher ihr Wert kommt."),
  page.share_of = "Anteil: {whose}",
  page.everybody = "alle Befragten",
  page.ci = function(alpha) sprintf("%s-KI {low} bis {high}", confidence_words(alpha)),
  page.expected = "Erwartet, wenn beide unabh\u00e4ngig w\u00e4ren",
  page.observed = "Beobachtet, auf derselben Skala",
  page.contribution = "Beitrag zu Chi-Quadrat",
  page.residual = "Adjustiertes Residuum",
  page.corrected = "korrigiert",
  page.unmarked = "nicht markiert",
  page.find = "Frage suchen",
  page.found = "{number} gefunden",
  page.dark = "Dunkel",
  page.light = "Hell",
  page.sentence = "{down} bei {across}: {share}, gegen\u00fcber {overall} insgesamt.",
  page.sentence_row = "{across} bei {down}: {share}, gegen\u00fcber {overall} insgesamt.",
  view.percent = "Prozente",
  view.n = "Befragte",
  view.weighted = "Gewichtete Anzahlen",
  view.expected = "Erwartete Anzahlen",
  view.adjusted_residual = "Adjustierte Residuen",
  view.interval = "Konfidenzintervalle",
  view_base.column = "je {question}",
  view_base.row = "je {question}",
  view_base.total = "an allen Befragten",
  figure_residuals = "Adjustierte Residuen: + mehr, \u2212 weniger als erwartet; * nach Korrektur markiert.",

  # ---- the paragraph ----
  null_unrelated = function(down, across, within) {
    sprintf("dass %s und %s unabh\u00e4ngig sind%s", down, across, within)
  },
  null_symmetric = function(down, across, within) {
    sprintf("dass Antworten von %s zu %s in beide Richtungen gleich oft wechseln%s", down, across, within)
  },
  within = function(each, answer) sprintf(" (bei %s = %s)", each, answer),
  rejected = function(null, alpha, figures) {
    sprintf("Die Nullhypothese, %s, wird auf dem Niveau %s verworfen (%s).", null, format_alpha(alpha), figures)
  },
  not_rejected = function(null, alpha, figures) {
    sprintf("Die Nullhypothese, %s, wird auf dem Niveau %s nicht verworfen (%s).", null, format_alpha(alpha), figures)
  },
  not_tested = function(null, reason) {
    sprintf("Die Nullhypothese, %s, kann nicht gepr\u00fcft werden: %s.", null, in_words(reason))
  },
  who_compared = function(down, across, within, n, design, left) {
    sprintf("%s wurde nach %s%s unter %s %s verglichen%s%s.", down, across, within, format_count(n),
            plural(n, "Person", "Befragten"), design, left)
  },
  who_weighted = function(weight, effective, design) {
    sprintf(" (gewichtet mit %s; effektive Basis %s%s)", weight, format_count(effective),
            if (length(design)) paste0("; Stichprobenplan mit ", paste(design, collapse = " und ")) else "")
  },
  who_design = function(design) sprintf(" (Stichprobenplan mit %s)", paste(design, collapse = " und ")),
  design.stratum = "Schichten",
  design.cluster = "Klumpen",
  design.replicates = "Replikationsgewichten",
  who_left_out = function(left, records, reasons) {
    sprintf("; %s von %s Datens\u00e4tzen %s%s", format_count(left), format_count(records),
            plural(left, "blieb unber\u00fccksichtigt", "blieben unber\u00fccksichtigt"),
            if (length(reasons)) paste0(": ", paste(reasons, collapse = "; ")) else "")
  },
  test_chosen = function(reason) sprintf("Der Test wurde gew\u00e4hlt, weil %s.", in_words(reason)),
  no_evidence = "Das ist kein Beleg daf\u00fcr, dass es keinen Zusammenhang gibt.",
  no_evidence_symmetry = "Das ist kein Beleg daf\u00fcr, dass sich nichts ver\u00e4ndert hat.",
  trend_sentence = function(figures) sprintf("Beide Fragen sind geordnet; es gibt einen linearen Trend (%s).", figures),
  no_trend_sentence = function(figures) {
    sprintf("Beide Fragen sind geordnet; f\u00fcr einen linearen Trend gibt es keinen Beleg (%s).", figures)
  },
  strength_sentence = function(figures) sprintf("St\u00e4rke des Zusammenhangs: %s.", paste(figures, collapse = "; ")),
  where_column = function(down, across, share, overall) {
    sprintf("in %s antworteten %s %s, insgesamt %s", quoted(across), percent_words(share), quoted(down),
            percent_words(overall))
  },
  where_row = function(down, across, share, overall) {
    sprintf("von denen mit %s geh\u00f6ren %s zu %s, insgesamt %s", quoted(down), percent_words(share), quoted(across),
            percent_words(overall))
  },
  where_total = function(down, across, share, overall) {
    sprintf("%s mit %s: %s von allen", quoted(down), quoted(across), percent_words(share))
  },
  where_more = function(cells) sprintf("Mehr als erwartet: %s.", paste(cells, collapse = "; ")),
  where_fewer = function(cells) sprintf("Weniger als erwartet: %s.", paste(cells, collapse = "; ")),
  where_spread = paste("Nach der Korrektur sticht keine einzelne Zelle hervor, was kein Widerspruch ist: der",
                       "Zusammenhang verteilt sich auf viele Zellen."),
  reach_sentence = function(power, v, high) {
    if (v >= 1) return("Die Tabelle ist zu klein, um auch nur einen vollkommenen Zusammenhang sicher zu zeigen.")
    sprintf("Mit einer Testst\u00e4rke von %s h\u00e4tte sie einen Zusammenhang von V = %s gezeigt%s.",
            percent_words(power, 0L), strength_words(v),
            if (is.na(high)) "" else
              sprintf("; das Intervall von V reicht bis %s", strength_words(high)))
  },
  with_care = function(cautions) paste("Einschr\u00e4nkungen:", paste(cautions, collapse = " ")),

  # ---- tests and measures by name ----
  test.pearson = "Chi-Quadrat nach Pearson",
  test.likelihood_ratio = "Likelihood-Quotient",
  test.continuity_corrected = "Chi-Quadrat mit Kontinuit\u00e4tskorrektur",
  test.exact = "exakter Test",
  test.monte_carlo = "exakter Test mit Zufallstabellen",
  test.linear_trend = "linearer Trend",
  test.rao_scott_corrected = "Rao-Scott zweiter Ordnung, korrigiert",
  test.rao_scott_second = "Rao-Scott zweiter Ordnung",
  test.rao_scott_first = "Rao-Scott erster Ordnung",
  test.symmetry = "Symmetrie",
  test.symmetry_exact = "Symmetrie, exakt",
  test.symmetry_rao_scott = "Symmetrie, Rao-Scott zweiter Ordnung",
  measure.cramers_v = "Cram\u00e9rs V",
  measure.cramers_v_corrected = "Cram\u00e9rs V, korrigiert",
  measure.contingency_coefficient = "Kontingenzkoeffizient",
  measure.uncertainty = "Unsicherheitskoeffizient",

  # ---- books ----
  numbered = function(number, title) sprintf("Tabelle %s. %s", number, title),
  book.title = "Tabellen",
  book.counts = function(tables, failed, chapters) {
    sprintf("%s %s in %s %s%s.", format_count(tables), plural(tables, "Tabelle", "Tabellen"), format_count(chapters),
            plural(chapters, "Kapitel", "Kapiteln"),
            if (failed) sprintf(", davon %d nicht herstellbar", failed) else "")
  },
  book.failed = function(reason) sprintf("Nicht hergestellt: %s", reason),
  column.table = "Tabelle",
  column.tables = "Tabellen",
  column.question = "Frage",
  column.by = "Nach",
  column.strongest = "Auff\u00e4lligste Zelle",
  column.finding = "Befund",
  column.with = "Mit",
  summary.said = function(tests, alpha, significant, part) {
    if (tests == 0) return("Kein Fragenpaar wurde gepr\u00fcft.")
    expected <- alpha * tests
    sprintf(paste("%s %s auf Unabh\u00e4ngigkeit%s. W\u00e4re nichts zusammenh\u00e4ngend, w\u00e4ren etwa %s",
                  "davon auf dem Niveau %s zuf\u00e4llig signifikant; nach der Korrektur \u00fcber alle",
                  "(Benjamini-Hochberg) %s %s."),
            format_count(tests), plural(tests, "Test", "Tests"), if (part) " im ganzen Buch" else "",
            if (expected < 10) format_number(expected, 1L) else format_count(expected), format_alpha(alpha),
            plural(significant, "ist es", "sind es"), if (significant) format_count(significant) else "keiner")
  },
  summary.cell = function(down, across, share, overall, percent) {
    if (percent == "total") return(sprintf("%s mit %s: %s von allen", down, across, percent_words(share)))
    if (percent == "row") return(sprintf("%s bei %s: %s, insgesamt %s", across, down, percent_words(share),
                                         percent_words(overall)))
    sprintf("%s in %s: %s, insgesamt %s", down, across, percent_words(share), percent_words(overall))
  },
  finding.none = function(across) {
    sprintf("Kein Hinweis auf einen Zusammenhang mit %s nach der Korrektur \u00fcber das ganze Buch.",
            list_with(across, "oder"))
  },
  finding.untested = "Kein Test war m\u00f6glich.",
  finding.related = function(across, v, strongest) {
    sprintf("H\u00e4ngt zusammen mit %s%s%s.", across,
            if (is.na(v)) "" else sprintf(" (Cram\u00e9rs V = %s)", format_strength(v)),
            if (is.na(strongest)) "" else sprintf("; am auff\u00e4lligsten: %s", strongest))
  },
  front.title = "Was f\u00fcr alle Tabellen gilt",
  front.definitions = "Begriffe",
  front.summary = "Welche Fragen zusammenh\u00e4ngen",
  front.index = "Verzeichnis der Fragen",
  front.account = function(records, n, reasons) {
    sprintf(paste("%s Datens\u00e4tze wurden gelesen; %s Befragte k\u00f6nnen in den Tabellen stehen%s. Was eine",
                  "Tabelle dar\u00fcber hinaus ausl\u00e4sst, steht unter ihr."),
            format_count(records), format_count(n),
            if (length(reasons)) paste0(" (ausgelassen: ", list_words(reasons), ")") else "")
  },
  front.design = function(weight, strata, stratum, clusters, cluster, replicates) {
    parts <- c(if (!is.null(strata)) sprintf("%s Schichten (%s)", format_count(strata), stratum),
               if (!is.null(clusters)) sprintf("%s Klumpen (%s)", format_count(clusters), cluster),
               if (replicates > 0) sprintf("%s Replikatgewichte", format_count(replicates)))
    if (is.null(weight) && !length(parts)) return(paste("Die Befragten gelten als einfache Zufallsstichprobe; jeder",
                                                        "z\u00e4hlt als einer."))
    sprintf("Prozente sind %s; Tests, Intervalle und Markierungen folgen dem Stichprobenplan%s.",
            if (is.null(weight)) "ungewichtet" else sprintf("gewichtet mit %s", weight),
            if (length(parts)) paste0(": ", list_with(parts, "und")) else "")
  },
  front.weights = function(n, effective) {
    sprintf("Die Gewichte sind ungleich: alle %s Befragten zusammen z\u00e4hlen wie etwa %s gleich gewichtete.",
            format_count(n), format_count(effective))
  },
  front.repeated = function(ids) {
    sprintf("%s %s mehr als einmal vor: jede Tabelle z\u00e4hlt eine solche Person so oft.", format_count(ids),
            plural(ids, "Kennung kommt", "Kennungen kommen"))
  },
  definition.base = "Basis",
  definition.base.text = paste("Prozente beziehen sich auf die, die die Fragen der Tabelle beantwortet haben;",
                               "wie viele Menschen",
                               "das sind, steht ungewichtet bei den Befragten."),
  definition.weight = "Gewichtete Basis",
  definition.weight.text = paste("Die Summe der Gewichte dieser Befragten: f\u00fcr wie viele Menschen sie",
                                 "stehen. Wie sicher eine",
                                 "Zahl ist, sagen die Befragten und die effektive Basis."),
  definition.test = "Test",
  definition.test.text = function(designed, alpha) {
    sprintf(paste("Ob die Antworten unten und oben unabh\u00e4ngig sein k\u00f6nnten, auf dem Niveau %s%s.",
                  "\u201eNicht signifikant\u201c",
                  "hei\u00dft nicht \u201ekein Unterschied\u201c: eine kleine Basis kann ihn verbergen."),
            list_with(format_alpha(alpha), "oder"),
            if (designed) ", nach dem Stichprobenplan (Rao-Scott, zweiter Ordnung)" else "")
  },
  definition.strength = "Cram\u00e9rs V",
  definition.strength.text = paste("Wie stark ein Zusammenhang ist, von 0 (keiner) bis 1 (so stark wie",
                                   "m\u00f6glich), mit seinem",
                                   "95-%-Intervall. Bei vielen Befragten kann auch ein sehr schwacher",
                                   "signifikant sein."),
  definition.marks = "Markierungen",
  definition.marks.text = paste("+ und \u2212 stehen bei Zellen mit mehr oder weniger Befragten, als es ohne",
                                "Zusammenhang w\u00e4ren,",
                                "korrigiert \u00fcber die Zellen der Tabelle; Buchstaben und Differenzen sind",
                                "dort erkl\u00e4rt, wo sie stehen."),
  definition.many = "Viele Tests",
  definition.many.text = paste("Ein Buch enth\u00e4lt so viele Tests, dass einige zuf\u00e4llig signifikant",
                               "sind. \u00dcbersicht und Befunde nutzen",
                               "p-Werte, die \u00fcber das ganze Buch korrigiert sind (Benjamini-Hochberg)."),
  definition.change = "Ver\u00e4nderung",
  definition.change.text = function(waves) {
    sprintf(paste("Prozentpunkte von %s bis %s, mit Zeichen, wo sie signifikant ist. Gleich benannte Klumpen beider",
                  "Wellen gelten als dieselben."),
            waves[1L], waves[2L])
  },
  # ---- the desk ----
  desk.name = "Tabellentisch",
  desk.records = "Datens\u00e4tze",
  desk.records_in = function(file, n) sprintf("%s, %s Datens\u00e4tze", file, format_count(n)),
  desk.chapter = "Tabellen",
  desk.skip = "Zur Tabelle springen",
  desk.questions = "Fragen",
  desk.none_found = "Keine Frage hat diese W\u00f6rter im Namen oder Titel.",
  desk.put_question = "Was mit der Frage geschehen soll",
  desk.put.down = "Vergleichen",
  desk.put.across = "Nach",
  desk.put.each = "F\u00fcr jede",
  desk.put.answers = "Antworten\u2026",
  desk.find_for.down = "Frage w\u00e4hlen, die verglichen wird: Pfeiltasten und Eingabetaste.",
  desk.find_for.across = "Frage w\u00e4hlen, nach der verglichen wird: Pfeiltasten und Eingabetaste.",
  desk.find_for.each = "Frage w\u00e4hlen, deren Antworten je eine Tabelle haben: Pfeiltasten und Eingabetaste.",
  desk.compare = "Vergleiche",
  desk.by = "nach",
  desk.each = "f\u00fcr jede",
  desk.add.down = "eine Frage",
  desk.add.across = "+ Frage",
  desk.add.each = "+ Frage",
  desk.turn = "Umdrehen",
  desk.clear = "Neu beginnen",
  desk.open_answers = function(question, across) {
    sprintf("Antworten auf %s%s", question, if (across) " (Alt mit Pfeiltaste: an anderer Stelle)" else "")
  },
  desk.take_away = function(question) sprintf("Wegnehmen: %s", question),
  desk.undo = "R\u00fcckg\u00e4ngig",
  desk.redo = "Wiederholen",
  desk.undo_what = function(what = NULL) {
    if (is.null(what)) "Nichts r\u00fcckg\u00e4ngig zu machen" else sprintf("R\u00fcckg\u00e4ngig: %s", what)
  },
  desk.redo_what = function(what = NULL) {
    if (is.null(what)) "Nichts zu wiederholen" else sprintf("Wiederholen: %s", what)
  },
  desk.did.put = "Frage eingesetzt",
  desk.did.drop = "Frage weggenommen",
  desk.did.turn = "Tabelle umgedreht",
  desk.did.clear = "Neu begonnen",
  desk.did.ask = "Stichprobenplan ge\u00e4ndert",
  desk.did.ask_all = "Stichprobenplan ge\u00e4ndert",
  desk.did.one_per = "Datens\u00e4tze je Person",
  desk.did.keep = "Filter ge\u00e4ndert",
  desk.did.set = "Einstellung ge\u00e4ndert",
  desk.did.draw = "Abbildung ge\u00e4ndert",
  desk.did.prepare = "Antworten ge\u00e4ndert",
  desk.did.unprepare = "Antworten wie zuvor",
  desk.did.tray_put = "In die Ablage gelegt",
  desk.did.tray_drop = "Aus der Ablage genommen",
  desk.did.tray_move = "Ablage geordnet",
  desk.did.tray_open = "Tabelle der Ablage ge\u00f6ffnet",
  desk.did.take_up = "Arbeit eines anderen Fensters aufgenommen",
  desk.marks = "Markiert",
  desk.mark.residuals = "abweichende Zellen",
  desk.mark.letters = "mit Buchstaben",
  desk.mark.differences = "Unterschiede",
  desk.mark.none = "nichts",
  desk.sort.asked = "wie gefragt",
  desk.sort.size = "nach Gr\u00f6\u00dfe",
  desk.sort.difference = "nach Unterschied",
  desk.decimals = "Nachkommastellen",
  desk.in_cell = "In jeder Zelle\u2026",
  desk.more = "Mehr\u2026",
  desk.by_default = "wie \u00fcblich",
  desk.show.column = "Spaltenprozent",
  desk.show.row = "Zeilenprozent",
  desk.show.total = "Prozent von allen",
  desk.show.n = "Befragte",
  desk.show.weighted = "Gewichtetes n",
  desk.show.cumulative = "Kumulierte Prozent",
  desk.show.interval = "Konfidenzintervall",
  desk.show.given = "Vorgegebene Prozent",
  desk.show.difference = "Unterschied",
  desk.show.difference_interval = "Intervall des Unterschieds",
  desk.show.expected = "Erwartete H\u00e4ufigkeit",
  desk.show.residual = "Residuum",
  desk.show.pearson = "Pearson-Residuum",
  desk.show.adjusted = "Adjustiertes Residuum",
  desk.show.contribution = "Beitrag zu Chi-Quadrat",
  desk.who = "Wer ist darin?",
  desk.trust = "Kann ich ihr trauen?",
  desk.hand_on = "Was gebe ich weiter?",
  desk.trust_later = "Hier werden der Test, die St\u00e4rke und die Vorbehalte der Tabelle stehen.",
  desk.nothing_to_test = "In dieser Tabelle gibt es nichts zu testen.",
  desk.none = "keine",
  desk.design = "Stichprobenplan:",
  desk.design_given = "Der Stichprobenplan ist der, mit dem der Tabellentisch ge\u00f6ffnet wurde.",
  desk.told.weight = function(name) sprintf("gewichtet mit %s", name),
  desk.told.stratum = function(name) sprintf("Schichten: %s", name),
  desk.told.cluster = function(name) sprintf("Klumpen: %s", name),
  desk.told.replicates = function(number) sprintf("%d Replikationsgewichte", number),
  desk.told.none = "jeder Datensatz z\u00e4hlt gleich",
  desk.role.weight = "Gewicht",
  desk.role.stratum = "Schicht",
  desk.role.cluster = "Klumpen",
  desk.role.id = "Person",
  desk.role.count = "Anzahl",
  desk.likely = function(columns) sprintf("Wie die Namen nahelegen: %s", paste(columns, collapse = ", ")),
  desk.one_per = "Datens\u00e4tze je Person",
  desk.one_per.all = "alle",
  desk.one_per.first = "der erste",
  desk.one_per.last = "der letzte",
  desk.among = "Nur, f\u00fcr wen gilt",
  desk.among_example = "alle",
  desk.base_words = "Genannt",
  desk.keep = "Anwenden",
  desk.everybody = "Alle",
  desk.undo_step = function(step) sprintf("Zur\u00fccknehmen: %s", step),
  desk.step.band = function(question, told) sprintf("%s in Klassen ab %s", question, list_words(told)),
  desk.step.regroup = function(question, told) {
    sprintf("%s: Antworten zusammengefasst zu %s", question, list_words(quoted(told)))
  },
  desk.step.order_answers = function(question, told) {
    sprintf("%s in der Reihenfolge %s", question, list_words(told, 3L))
  },
  desk.step.retitle = function(question, told) sprintf("%s hei\u00dft %s", question, quoted(told)),
  desk.step.net = function(question, told) sprintf("%s: Zwischensumme %s", question, list_words(quoted(told))),
  desk.step.score = function(question, told) {
    if (length(told)) sprintf("%s mit den Werten %s", question, list_words(told)) else
      sprintf("%s: mit Mittelwerten", question)
  },
  desk.step.ticks = function(question, told) sprintf("%s: Mehrfachantworten aus %s", question, list_words(told, 3L)),
  desk.kind.answers = "Antworten",
  desk.kind.ordered = "geordnete Antworten",
  desk.kind.ticks = "Mehrfachantworten",
  desk.kind.number = "Zahl",
  desk.kind.text = "Text",
  desk.kind.other = "keine einzelnen Werte",
  desk.kind.empty = "nur eine Antwort",
  desk.kind.design = "Stichprobenplan",
  desk.begin = "Was m\u00f6chten Sie vergleichen?",
  desk.begin_how = paste("Ziehen Sie eine Frage aus der Liste in den Satz dar\u00fcber, oder w\u00e4hlen Sie sie und",
                         "dr\u00fccken Sie eine der Schaltfl\u00e4chen unter der Liste."),
  desk.begin_keys = paste("Mit der Tastatur: / f\u00fchrt zur Suche, die Pfeiltasten zu einer Frage, die Eingabetaste",
                          "setzt sie ein, wo Platz ist, Strg+Z nimmt das Letzte zur\u00fcck."),
  desk.others = "Arbeiten anderer Fenster:",
  desk.figure = "Abbildung",
  desk.figure_kind.shares = "Anteile (100 %)",
  desk.figure_kind.grouped = "Gruppierte Balken",
  desk.figure_kind.stacked = "Gestapelte H\u00e4ufigkeiten",
  desk.figure_kind.dots = "Punkte mit Intervallen",
  desk.figure_kind.balance = "Links und rechts der Mitte",
  desk.figure_kind.change = "Ver\u00e4nderung",
  desk.figure_kind.heat = "Schattierung",
  desk.figure_kind.residuals = "Abweichungen",
  desk.figure_kind.mosaic = "Mosaik",
  desk.figure_kind.map = "Karte",
  desk.figure_kind.none = "Keine",
  desk.drawing = "Die Abbildung wird gezeichnet.",
  desk.into_tray = "In die Ablage",
  desk.up = function(title) sprintf("Nach oben: %s", title),
  desk.down = function(title) sprintf("Nach unten: %s", title),
  desk.publish = "Ausgeben",
  desk.this_table = "diese Tabelle",
  desk.the_tray = function(number) sprintf("die Ablage (%d %s)", number, plural(number, "Tabelle", "Tabellen")),
  desk.as = "als",
  desk.save = "Speichern",
  desk.saved = "Gespeichert: {name}",
  desk.copied = "Kopiert.",
  desk.title = function(down, across, each = NULL, among = NULL) {
    paste0(down, if (length(across)) paste(" nach", list_with(across, "und")),
           if (!is.null(each)) paste(", je", each), if (!is.null(among)) paste0(" (", among, ")"))
  },
  desk.leave.code = "Als R-Code",
  desk.leave.command = "Als Befehl",
  desk.leave.plan = "Als Tabellenplan",
  desk.lost = "Das Programm hinter dieser Seite ist beendet oder antwortet nicht. Was Sie sehen, bleibt, wie es ist.",
  desk.again = "Noch einmal versuchen",
  desk.is_design = "Diese Spalte geh\u00f6rt zum Stichprobenplan.",
  desk.choose_first = "W\u00e4hlen Sie zuerst Antworten.",
  desk.name_first = "Geben Sie zuerst einen Namen.",
  desk.verb.ticks = "Mehrfachantworten bilden",
  desk.items = "Aus diesen Spalten",
  desk.new_title = "Titel",
  desk.verb.retitle = "Titel \u00e4ndern",
  desk.bands = "Klassen",
  desk.verb.band = "In Klassen teilen",
  desk.breaks = "Sie beginnen bei",
  desk.into = "Name der neuen Frage",
  desk.scores = "Mittelwerte",
  desk.mean_of_number = "Als Zahl verglichen hat sie Mittelwerte statt Prozenten.",
  desk.verb.score = "Mittelwerte zeigen",
  desk.choose_answers = "Antworten w\u00e4hlen",
  desk.score_and_order = "Wert, Platz",
  desk.score_of = function(answer) sprintf("Wert von %s", answer),
  desk.verb.regroup = "Zusammenfassen",
  desk.new_answer = "Die gew\u00e4hlten als eine Antwort, genannt",
  desk.verb.net = "Zwischensumme",
  desk.new_net = "Die gew\u00e4hlten als Zwischensumme, genannt",
  desk.verb.leave = "Auslassen",
  desk.reason = "Die gew\u00e4hlten als keine Antwort, mit dem Grund",
  desk.reason_usual = "Ausgelassen",
  desk.verb.order_answers = "Reihenfolge behalten",
  desk.as_it_is = "Wie sie ist",
  desk.as_it_would_be = function(question) sprintf("Wie sie w\u00e4re: %s", question),
  desk.account_after = function(before, after, records) {
    sprintf("In der Tabelle: %s von %s Datens\u00e4tzen%s.", format_count(after), format_count(records),
            if (before == after) ", wie zuvor" else sprintf(" (zuvor: %s)", format_count(before)))
  },
  desk.close = "Schlie\u00dfen",
  view_base_short.column = "jede Spalte",
  view_base_short.row = "jede Zeile",
  view_base_short.total = "alle Befragten",
  view_base_short.none = "keine: H\u00e4ufigkeiten",
  wave.before = "Vorher",
  wave.now = "Jetzt",
  wave_label = "Welle",
  wave_title = function(question, waves) sprintf("%s: von %s bis %s", question, waves[1L], waves[2L]),
  wave.none = "Kein Vergleich mit der Welle zuvor"
)
