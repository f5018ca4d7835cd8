# The German catalogue: every sentence of the English one.

words_de <- list(
  # ---- how things are written ----
  percent_sign = "\u00a0%",
  quoted = function(text) sprintf("\u201e%s\u201c", text),
  interval = function(low, high) sprintf("%s bis %s", low, high),
  and_more = function(shown, more) sprintf("%s und %d weitere", shown, more),

  # ---- bands of numbers ----
  band.all = "alle",
  band.or_less = function(to) sprintf("%s oder weniger", to),
  band.or_more = function(from) sprintf("%s oder mehr", from),
  band.under = function(to) sprintf("unter %s", to),
  band.over = function(from) sprintf("\u00fcber %s", from),
  band.to_under = function(from, to) sprintf("%s bis unter %s", from, to),
  band.over_to = function(from, to) sprintf("\u00fcber %s bis %s", from, to),
  band.from_to = function(from, to) sprintf("%s\u2013%s", from, to),

  # ---- why records are left out ----
  reason.no_answer = function(detail) "keine Angabe",
  reason.outside = function(detail) {
    sprintf("erf\u00fcllt nicht die Bedingung %s", detail)
  },
  reason.cannot_tell = function(detail) sprintf("unbekannt, ob %s", detail),
  reason.no_response = function(detail) sprintf("nicht teilgenommen (%s)", detail),
  reason.no_weight = function(detail) "kein Gewicht",
  reason.no_count = function(detail) "keine Anzahl",
  reason.no_stratum = function(detail) "keine Schicht",
  reason.no_cluster = function(detail) "kein Klumpen",
  reason.no_replicate_weight = function(detail) "kein Replikationsgewicht",
  reason.zero_weight = function(detail) "Gewicht 0",
  reason.zero_count = function(detail) "Anzahl 0",
  reason.another_record = function(detail) "anderer Datensatz derselben Person",
  reason.no_record_meets = function(detail) {
    sprintf("kein Datensatz der Person erf\u00fcllt %s", detail)
  },

  # ---- why there is no test ----
  nobody_here = "in dieser Tabelle ist niemand",
  single_answer = paste("eine der beiden Fragen hat hier nur eine Antwort, es",
                        "gibt also nichts zu vergleichen"),
  no_df = paste("der Stichprobenplan hat hier keine Freiheitsgrade: es gibt",
                "nicht mehr Klumpen als Schichten"),
  no_item_differs = paste(paste("kein Punkt wurde von einem Teil der",
                                "Befragten angekreuzt und vom anderen nicht,",
                                "es gibt"), "also nichts zu vergleichen"),
  all_alike = "niemand hat die Aussagen verschieden beantwortet",
  no_change = paste("alle haben beide Male dasselbe geantwortet, es gibt also",
                    "keine Ver\u00e4nderung zu pr\u00fcfen"),

  # ---- why a test is the headline ----
  why_design = paste(paste("die Daten gewichtet sind oder einen",
                           "Stichprobenplan haben, den dieser Test",
                           "ber\u00fccksichtigt;"),
                     "seine Freiheitsgrade sind f\u00fcr die Zahl der Klumpen korrigiert"),
  why_imputed = function(imputations) {
    sprintf(paste("die Tabellen von %d imputierten Datens\u00e4tzen sind verbunden:",
                  "die Varianz in ihnen und zwischen ihnen"), imputations)
  },
  why_asked = "er verlangt wurde",
  why_sparse = "die erwarteten H\u00e4ufigkeiten f\u00fcr Chi-Quadrat zu klein sind",
  why_plain = paste(paste("es weder Gewichte noch einen Stichprobenplan gibt",
                          "und die erwarteten H\u00e4ufigkeiten gro\u00df"),
                    "genug sind"),
  why_paired = paste(paste("dieselbe Frage zweimal gestellt wurde und zu",
                           "pr\u00fcfen ist, ob Antworten in beide Richtungen"),
                     "gleich oft wechselten"),
  why_items_together = paste("mehrere Punkte angekreuzt werden konnten, die",
                             "dieser Test zusammen betrachtet"),
  reference_only = paste("nur zum Vergleich: als w\u00e4ren die Befragten",
                         "eine einfache Zufallsstichprobe"),
  items_together = function(left_out) {
    if (left_out == 0) "alle Punkte zusammen" else
      sprintf("alle Punkte zusammen; %d ausgelassen, von allen oder niemandem angekreuzt",
              left_out)
  },

  # ---- measures of strength ----
  tied_mode = paste("die h\u00e4ufigste Antwort ist nicht eindeutig, daher",
                    "gibt es keinen Standardfehler"),
  se_zero_no_gain = "eine Antwort zu kennen verbessert die Vorhersage der anderen nicht",
  no_gain = function(knowing) {
    sprintf("%s zu kennen verbessert die Vorhersage nicht", knowing)
  },
  against_exact_test = "sein Intervall f\u00fcr gro\u00dfe Stichproben widerspr\u00e4che dem exakten Test",
  too_sparse_for_interval = "die Tabelle ist f\u00fcr sein Intervall zu d\u00fcnn besetzt",
  strength_per_item = "die St\u00e4rke steht bei jedem Punkt",

  # ---- cautions ----
  severity.stop = "Halt",
  severity.care = "Vorsicht",
  severity.note = "Hinweis",
  no_test = function(reason) sprintf("Kein Test: %s.", in_words(reason)),
  sparse = function(small, cells, limit, least, rule, exact) {
    sprintf(paste("D\u00fcnn besetzte Tabelle: %d von %d erwarteten",
                  "H\u00e4ufigkeiten %s unter %s, die kleinste ist %s. %s"),
            small, cells, plural(small, "liegt", "liegen"),
            format_number(limit, 0L), format_number(least, 1L),
            if (exact)
              paste(paste("Der exakte Test tritt an die Stelle von",
                          "Chi-Quadrat; Zusammenhangsma\u00dfe und Residuen",
                          "sind"), "N\u00e4herungen.") else
              "Der p-Wert kann falsch sein; Antworten zusammenfassen.")
  },
  small_base = function(answers, n, limit) {
    sprintf("Prozente von weniger als %d Befragten: %s. Nicht f\u00fcr sich allein berichten.",
            limit, bases_words(answers, n))
  },
  low_base = function(answers, n, from, to) {
    sprintf("Prozente von nur %d bis %d Befragten: %s. Mit ihren Intervallen lesen.",
            from, to, bases_words(answers, n))
  },
  whole_table = "die ganze Tabelle",
  tiny_effect = function(v, n) {
    sprintf(paste(paste("Statistisch signifikant, aber schwach: Cram\u00e9rs",
                        "V ist %s. Bei %s Befragten kann selbst ein"),
                  paste("bedeutungsloser Unterschied signifikant sein; ob er",
                        "z\u00e4hlt, zeigen die Prozente.")),
            format_strength(v), format_count(n))
  },
  not_significant = function(power, v, high) {
    first <- if (v >= 1)
      paste("diese Tabelle ist zu klein, um auch nur einen vollkommenen",
            "Zusammenhang sicher zu entdecken") else
      sprintf(paste("diese Tabelle h\u00e4tte V ab %s entdecken k\u00f6nnen",
                    "(Testst\u00e4rke %s)"), strength_words(v),
              percent_words(power, 0L))
    sprintf("Nicht signifikant hei\u00dft nicht \u201ekein Unterschied\u201c: %s%s.",
            first, if (is.na(high)) "" else
              sprintf("; V bis %s ist nicht ausgeschlossen", strength_words(high)))
  },
  few_clusters = function(df, d) {
    sprintf(paste(paste("Der Stichprobenplan hat %s %s f\u00fcr einen Test",
                        "mit %d: p-Wert und Intervalle sind grob."),
                  "Antworten zusammenfassen oder weniger berichten."),
            format_df(df), plural(df, "Freiheitsgrad", "Freiheitsgrade"), d)
  },
  single_cluster = function(strata, treated) {
    sprintf("%s %s nur einen Klumpen (%s). %s; mit einer \u00e4hnlichen Schicht zusammenlegen.",
            format_count(length(strata)),
            plural(length(strata), "Schicht hat", "Schichten haben"),
            list_some(strata, 3L),
            c(centre = paste("Er wird um das Mittel aller Klumpen zentriert,",
                             "was die Varianz eher zu gro\u00df macht"),
              zero = "Er tr\u00e4gt nichts zur Varianz bei, was sie zu klein macht")[[treated]])
  },
  unequal_weights = function(n, effective, clustered = FALSE) {
    sprintf(paste("Sehr ungleiche Gewichte: der effektive Stichprobenumfang nach",
                  "Kish ist %s von %s Befragten%s. Tests und Intervalle",
                  "ber\u00fccksichtigen das; die gr\u00f6\u00dften Gewichte",
                  "pr\u00fcfen."),
            format_count(effective), format_count(n),
            if (clustered) ", ohne die Klumpen" else "")
  },
  calibrated_margin = function(questions) {
    sprintf(paste("Die Gewichte sind an %s kalibriert: Die Verteilung dieser %s \u00fcber",
                  "alle Befragten ist die der Grundgesamtheit, hat keinen",
                  "Stichprobenfehler und deshalb kein Intervall."),
            list_with_and(sprintf("\u201e%s\u201c", questions)),
            plural(length(questions), "Frage", "Fragen"))
  },
  unordered = function(question, answers) {
    sprintf(paste("Die Antworten auf %s sehen geordnet aus (%s bis %s), sind es hier aber",
                  "nicht: kein Trend und kein Ma\u00df der Ordnung. Erst die Reihenfolge angeben."),
            quoted(question), quoted(answers[1L]), quoted(answers[2L]))
  },
  empty_category = function(question, answers) {
    sprintf("Niemand hat bei %s %s geantwortet; der Test l\u00e4sst %s aus.",
            question, list_some(quoted(answers)),
            plural(length(answers), "diese Antwort", "diese Antworten"))
  },
  tick_all = function(question, example) {
    sprintf(paste(paste("Die Antworten auf %s sehen wie mehrere",
                        "zusammengefasste Kreuze aus (%s). Als eine Antwort",
                        "getestet,"),
                  paste("gilt jede Kombination als eine Art Mensch: eine",
                        "Mehrfachfrage daraus machen.")), quoted(question),
            quoted(example))
  },
  repeated_ids = function(ids, records, differing) {
    sprintf(paste("%s %s mehrfach vor (%s Datens\u00e4tze).%s Erst einen",
                  "Datensatz je Person behalten, dann testen."),
            format_count(ids), plural(ids, "Kennung kommt", "Kennungen kommen"),
            format_count(records),
            if (!differing) "" else
              sprintf(paste(" %s davon mit verschiedenen Antworten: eine",
                            "Person wird mehrmals gez\u00e4hlt."),
                      format_count(differing)))
  },
  left_out = function(records, asked, reason, question, detail) {
    sprintf(paste(paste("%s von %s Datens\u00e4tzen (%s) fehlen, weil eine",
                        "Antwort oder ein Gewicht fehlt, am"),
                  paste("h\u00e4ufigsten \u201e%s\u201c. Unterscheiden sie",
                        "sich vom Rest, ist die Tabelle verzerrt.")),
            format_count(records), format_count(asked),
            percent_words(records / asked, 0L),
            reason_words(reason, question, detail))
  },
  ticks_add_up = function(questions) {
    sprintf(paste(paste("Bei %s waren mehrere Antworten m\u00f6glich: die",
                        "Prozente beziehen sich auf die Befragten und"),
                  "k\u00f6nnen mehr als 100 ergeben; jeder Punkt wird f\u00fcr sich getestet."),
            paste(quoted(questions), collapse = " und "))
  },
  against_explains = function(explaining, explained, fair, shown) {
    names <- c(column = "Spaltenprozente", row = "Zeilenprozente",
               total = "Gesamtprozente")
    sprintf(paste(paste("Die Prozente laufen in die andere Richtung: %s soll",
                        "%s erkl\u00e4ren, also %s vergleichen; dies"),
                  "sind %s."), explaining, explained, names[[fair]],
            names[[shown]])
  },
  unread_parts = function(unread, parts) {
    sprintf(paste("%s von %s Dateien des Ordners wurden nicht ge\u00f6ffnet, da die",
                  "Bedingung alle ihre Datens\u00e4tze ausschlie\u00dft: Die Stichprobe ist",
                  "die der anderen."),
            format_count(unread), format_count(parts))
  },
  nested_clusters = function(clusters) {
    sprintf("%d %s in mehreren Schichten vor (%s) und z\u00e4hlt in jeder als eigener Klumpen.",
            length(clusters),
            plural(length(clusters), "Klumpenname kommt",
                   "Klumpennamen kommen"), list_some(clusters, 3L))
  },
  kept_total = function(answers) {
    sprintf("Wie eine Summe benannt, aber als Antwort behalten, weil sie nicht aufgeht: %s.",
            list_some(answers))
  },
  kept_sum = function(answers) {
    sprintf(paste(paste("Als Antwort behalten, obwohl es die Summe der",
                        "anderen ist: %s. Wenn es eine Summe ist, sind alle"),
                  "doppelt gez\u00e4hlt: als Summe benennen oder weglassen."),
            list_some(answers))
  },

  # ---- the table ----
  title = function(down, across) sprintf("%s nach %s", down, across),
  base.column = function(question, ticks) {
    sprintf("Spaltenprozente (Basis: je %s)", if (ticks)
      paste("angekreuzter Punkt bei", question) else question)
  },
  base.row = function(question, ticks) {
    sprintf("Zeilenprozente (Basis: je %s)", if (ticks)
      paste("angekreuzter Punkt bei", question) else question)
  },
  base.total = function(question, ticks) "Prozente aller Befragten der Tabelle",
  as_index = function(text) sprintf("%s, als Index (alle = 100)", text),
  weighted_by = function(text, weight) {
    sprintf("%s, gewichtet mit %s", text, weight)
  },
  brief.sparse = function(small, cells, limit, least, rule, exact) {
    sprintf("D\u00fcnn besetzt: %d von %d erwarteten H\u00e4ufigkeiten unter %s; %s.",
            small, cells, format_number(limit, 0L),
            if (exact) "daher der exakte Test" else
              "der p-Wert kann ungenau sein")
  },
  brief.small_base = function(answers, n, limit) {
    sprintf("Basis zu klein, um sie zu berichten (weniger als %d Befragte): %s.",
            limit, bases_words(answers, n))
  },
  brief.low_base = function(answers, n, from, to) {
    sprintf("Nur %d bis %d Befragte: %s.", from, to, bases_words(answers, n))
  },
  brief.tiny_effect = function(v, n) {
    sprintf("Signifikant, aber schwach (V = %s): bei n = %s sind das auch kleine Unterschiede.",
            format_strength(v), format_count(n))
  },
  brief.calibrated_margin = function(questions) {
    sprintf("Gewichte kalibriert an %s, was f\u00fcr sich keinen Stichprobenfehler hat.",
            list_with_and(sprintf("\u201e%s\u201c", questions)))
  },
  brief.unequal_weights = function(n, effective, clustered = FALSE) {
    sprintf("Sehr ungleiche Gewichte: effektiv nach Kish %s von %s%s.",
            format_count(effective), format_count(n),
            if (clustered) ", ohne die Klumpen" else "")
  },
  brief.unordered = function(question, answers) {
    sprintf("Die Antworten auf %s sehen geordnet aus (%s bis %s): Reihenfolge angeben.",
            quoted(question), quoted(answers[1L]), quoted(answers[2L]))
  },
  brief.repeated_ids = function(ids, records, differing) {
    sprintf("%s %s mehrfach vor (%s Datens\u00e4tze): nur einen je Person behalten.",
            format_count(ids), plural(ids, "Kennung kommt", "Kennungen kommen"),
            format_count(records))
  },
  brief.left_out = function(records, asked, reason, question, detail) {
    sprintf("%s von %s Datens\u00e4tzen (%s) fehlen, ohne Antwort oder Gewicht.",
            format_count(records), format_count(asked),
            percent_words(records / asked, 0L))
  },
  account_brief = function(records, used, left, reasons) {
    sprintf("%s %s: %s in der Tabelle; %s ausgelassen: %s",
            format_count(records),
            plural(records, "Datensatz", "Datens\u00e4tze"), format_count(used),
            format_count(left), paste(reasons, collapse = ", "))
  },
  account_outside = "nicht in der Basis",
  account_cannot_tell = "unbekannt, ob in der Basis",
  account_no_answer = function(question) {
    sprintf("keine Antwort auf %s", question)
  },
  subdivided = function(question, by) sprintf("%s je %s", by, question),
  base_called = function(base) sprintf("Basis: %s", base),
  base_kept = function(condition, names, labels) {
    sprintf("Basis: Befragte mit %s",
            condition_in_words(condition, names, labels))
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
    if (last == 1L) values else
      paste(paste(values[-last], collapse = ", "), "oder", values[last])
  },
  condition.no_answer = "keine Angabe",
  condition.answered = "beantwortet",
  condition.or = function(parts) paste(parts, collapse = ", oder "),
  condition.not = function(part) sprintf("nicht (%s)", part),
  figure.given = "Vorgabe %",
  goodness_rejected = function(down, across, within, level) {
    sprintf("Die Antworten auf %s weichen von den vorgegebenen Anteilen ab%s%s", down,
            within, level)
  },
  goodness_not_rejected = function(down, across, within, level) {
    sprintf(paste("Die Antworten auf %s weichen nicht signifikant von den vorgegebenen",
                  "Anteilen ab%s%s"), down, within, level)
  },
  key_given = function(rule) {
    sprintf("+ mehr, \u2212 weniger Befragte als nach den vorgegebenen Anteilen erwartet (%s)",
            rule)
  },
  key_given_none = function(rule) {
    sprintf("Keine Antwort weicht von ihrem vorgegebenen Anteil ab (%s)", rule)
  },
  null_given = function(down, across, within) {
    sprintf("dass die Antworten auf %s%s den vorgegebenen Anteilen folgen",
            down, within)
  },
  rounded_key = function(base, alone) {
    sprintf(paste("H\u00e4ufigkeiten sind zuf\u00e4llig auf Vielfache von %s",
                  "gerundet%s; Prozente sind aus ihnen berechnet"),
            format_count(base),
            if (alone) " und summieren sich" else
              ", jede Frage f\u00fcr sich, und summieren sich nicht zur Summe aller")
  },
  source_line = function(file, dated, sha256, records, weight, stratum, cluster,
                         replicates, calibrated_to, imputations, version) {
    of_file <- c(if (length(dated)) sprintf("vom %s", dated),
                 if (length(sha256)) paste("SHA-256", substr(sha256, 1L, 12L)))
    parts <- c(if (length(file))
                 paste0(file,
                        if (length(of_file))
                          sprintf(" (%s)", paste(of_file, collapse = ", "))),
               if (length(records))
                 paste(format_count(records),
                       plural(records, "Datensatz", "Datens\u00e4tze")),
               if (length(weight)) paste("Gewicht:", weight),
               if (length(stratum)) paste("Schichten:", paste(unlist(stratum), collapse = ", ")),
               if (length(cluster)) paste("Klumpen:", paste(unlist(cluster), collapse = ", ")),
               if (length(replicates))
                 paste("Replikationsgewichte:", replicates),
               if (length(calibrated_to))
                 paste("kalibriert an:", list_with_and(unlist(calibrated_to))),
               if (length(imputations))
                 sprintf("%d imputierte Datens\u00e4tze", as.integer(imputations)))
    sprintf("Quelle: %s. Erstellt mit Fair Lattice %s.",
            paste(parts, collapse = "; "), version)
  },
  line.all = "Alle",
  line.total = "Summe",
  line.respondents = "Befragte",
  line.weighted = "Gewichtete Basis",
  line.effective = "Effektive Basis",
  line.mean = "Mittelwert",
  line.sd = "Standardabweichung",
  line.q1 = "Unteres Quartil",
  rounding_sum = "Prozente ergeben wegen der Rundung nicht immer 100.",
  rounding_difference = "Differenzen sind vor dem Runden berechnet.",
  line.outside = function(reason) sprintf("%s (%% aller Befragten)", reason),
  line.median = "Median",
  line.q3 = "Oberes Quartil",
  line.se = "Standardfehler des Mittelwerts",
  line.cv = "Sein Variationskoeffizient",
  line.deff = "Sein Designeffekt",
  base.none = function(question, ticks) "Anzahl der Befragten",
  base.mean = function(question, ticks) {
    sprintf("Mittelwerte und Quartile (Basis: je %s)", question)
  },
  base.mean_alone = function(question, ticks) {
    "Mittelwert und Quartile aller Befragten der Tabelle"
  },
  banner_base.column = "Spaltenprozente innerhalb jeder Kopffrage",
  banner_base.row = "Zeilenprozente innerhalb jeder Kopffrage",
  banner_base.total = "Prozente aller Befragten jeder Tabelle",
  banner_base.none = "Anzahl der Befragten",
  list_of_means = "Mittelwerte",
  list_line = function(shown, line) sprintf("%s: %s", shown, line),
  block_line = function(block, line) sprintf("%s: %s", block, line),
  banner_key = function(rules) {
    sprintf("+ mehr, \u2212 weniger Befragte als bei Unabh\u00e4ngigkeit zu erwarten (%s)",
            paste(rules, collapse = "; "))
  },
  block_left_out = function(block, n) {
    sprintf("%s: %s dieser Befragten ausgeschlossen, die darauf nicht geantwortet haben",
            block, format_count(n))
  },
  by_itself = function(questions) {
    sprintf("%s: nicht gegen sich selbst gestellt.",
            list_some(quoted(questions)))
  },
  csv_interval = "Intervall",
  figure.column = "Spalten-%",
  figure.row = "Zeilen-%",
  figure.total = "% aller",
  figure.n = "n",
  figure.weighted = "n gewichtet",
  unit.thousands = "Tausend",
  unit.millions = "Millionen",
  figure.estimated_total = function(unit) {
    paste0("Hochrechnung", in_unit(unit))
  },
  figure.se = "Standardfehler",
  figure.cv = "Variationskoeffizient",
  figure.missing_information = "Anteil fehlender Information",
  figure.deff = "Designeffekt",
  figure.cumulative = "kumuliert %",
  figure.index = "Index (alle = 100)",
  figure.difference = "Differenz",
  figure.difference_interval = function(alpha) {
    sprintf("ihr %s-KI", confidence_words(alpha))
  },
  figure.percent = "%",
  figure.interval = function(alpha) sprintf("%s-KI", confidence_words(alpha)),
  figure.expected = "erwartet",
  figure.residual = "Residuum",
  figure.pearson = "Pearson-Residuum",
  figure.adjusted = "adjustiertes Residuum",
  figure.contribution = "Beitrag zu X\u00b2",
  other_pattern = "^(sonstige|andere|keine davon|wei\u00df nicht)",
  withheld_key = function(limit) {
    sprintf(paste("[c] geheim gehalten: unter %s Befragte, oder eine solche",
                  "Zelle w\u00e4re daraus zu errechnen"), format_count(limit))
  },
  flag_key = function(rules, caution, out) {
    sentences <- list(
      flag_cv = function(limit) sprintf("Variationskoeffizient \u00fcber %s %%", limit),
      flag_width = function(limit) sprintf("Intervall breiter als %s Punkte", limit),
      flag_under = function(limit) sprintf("weniger als %s Befragte", limit),
      flag_clusters = function(limit) sprintf("weniger als %s Klumpen", limit))
    limits <- function(k) limits_said(rules, k, sentences, " oder ")
    paste(c(if (caution)
              sprintf("[u] nach einer Zahl: mit Vorsicht zu verwenden (%s)",
                      limits(1L)),
            if (out) sprintf("[u] allein: nicht verl\u00e4sslich genug (%s)",
                             limits(2L))), collapse = "; ")
  },
  totals_of_sample = paste("Die Gewichte sind im Mittel etwa 1, die",
                           "Hochrechnung gilt also den Befragten, nicht der",
                           "Bev\u00f6lkerung"),
  totals_rule = function(alpha) {
    sprintf(paste("Hochrechnungen sind Summen der Gewichte, mit eigenen",
                  "%s-Intervallen; Paare sind Spalten in derselben Zeile."),
            confidence_words(alpha))
  },
  base_of_totals = function(unit) {
    paste0("Hochgerechnete Anzahl der Personen",
           in_unit(unit))
  },
  hidden_key = function(limit) {
    sprintf("* Prozente von weniger als %s Befragten werden nicht gezeigt",
            format_count(limit))
  },
  against.rest = "den \u00dcbrigen",
  against.total = "allen",
  higher = "h\u00f6her",
  lower = "niedriger",
  means_different = function(down, across, within, level) {
    sprintf("Der Mittelwert von %s unterscheidet sich nach %s%s%s", down, across,
            within, level)
  },
  means_not_different = function(down, across, within, level) {
    sprintf("Der Mittelwert von %s unterscheidet sich nicht signifikant nach %s%s%s",
            down, across, within, level)
  },
  null_means = function(down, across, within) {
    sprintf("dass die Mittelwerte von %s f\u00fcr alle Antworten auf %s gleich sind%s",
            down, across, within)
  },
  no_evidence_means = "Das ist kein Beleg daf\u00fcr, dass die Mittelwerte gleich sind.",
  test.equal_means = "Test auf gleiche Mittelwerte",
  peak_key = function(row) {
    sprintf("^ der gr\u00f6\u00dfte Anteil seiner %s",
            if (row) "Zeile" else "Spalte")
  },
  marking_rule = function(critical, correction, cells, alpha) {
    sprintf("%s; %s; Niveau %s",
            if (is.na(critical)) "exakter p-Wert jeder Zelle" else
              sprintf("adjustiertes Residuum jenseits von \u00b1%s",
                      format_number(critical)),
            if (cells == 1) "keine Korrektur: ein Vergleich" else
              sprintf("%s \u00fcber %d Zellen",
                      name_of("correction", correction), cells),
            format_alpha(alpha))
  },
  list_rule = function(correction, alpha) {
    sprintf("adjustierte Residuen; %s \u00fcber die Zellen der Tabelle jeder Frage; Niveau %s",
            name_of("correction", correction), format_alpha(alpha))
  },
  key_marked = function(rule) {
    sprintf(paste("+ mehr, \u2212 weniger Befragte als erwartet, wenn beide",
                  "unabh\u00e4ngig w\u00e4ren (%s)"), rule)
  },
  key_spread = function(rule) {
    sprintf(paste("Keine einzelne Zelle ist markiert (%s): der Zusammenhang",
                  "verteilt sich auf viele Zellen"), rule)
  },
  key_none = function(rule) sprintf("Keine Zelle unterscheidet sich signifikant (%s)", rule),
  no_test_line = function(reason) sprintf("Kein Test: %s", in_words(reason)),
  associated = function(down, across, within, level) {
    sprintf("%s unterscheidet sich nach %s%s%s", down, across, within, level)
  },
  not_associated = function(down, across, within, level) {
    sprintf("%s unterscheidet sich nicht signifikant nach %s%s%s", down, across,
            within, level)
  },
  trend_found = function(figures, scores) {
    sprintf("Linearer Trend: %s (%s)", figures, scores)
  },
  trend_not_found = function(figures, scores) {
    sprintf("Kein Beleg f\u00fcr einen linearen Trend: %s (%s)", figures,
            scores)
  },
  reference_line = function(figures, weighted) {
    sprintf("Nur zum Vergleich (%sohne Stichprobenplan): %s",
            if (weighted) "gewichtete Prozente, " else "", figures)
  },
  ci = function(alpha, low, high) {
    sprintf("%s-KI %s", confidence_words(alpha),
            interval_words(low, high, format_strength))
  },
  no_ci = function(reason) sprintf("kein Intervall: %s", reason),
  explaining = function(explaining, explained) {
    sprintf("%s erkl\u00e4rt %s", explaining, explained)
  },
  in_this_table = function(n) {
    sprintf("%s %s in dieser Tabelle.", format_count(n),
            plural(n, "Person", "Befragte"))
  },
  account_whole = function(records, several) {
    sprintf("%s %s gelesen, alle in %s", format_count(records),
            plural(records, "Datensatz", "Datens\u00e4tze"),
            if (several) "den Tabellen" else "der Tabelle")
  },
  account_parts = function(records, used, left, reasons, several) {
    sprintf("%s %s gelesen: %s in %s, %s ausgelassen: %s",
            format_count(records),
            plural(records, "Datensatz", "Datens\u00e4tze"), format_count(used),
            if (several) "den Tabellen" else "der Tabelle", format_count(left),
            paste(reasons, collapse = "; "))
  },
  account_counts = function(n, cells) {
    sprintf("%s %s in %s %s gez\u00e4hlt", format_count(n),
            plural(n, "Person", "Befragte"), format_count(cells),
            plural(cells, "Zelle", "Zellen"))
  },
  account_totals = function(totals) {
    sprintf("als Summen beiseitegelegt: %s", paste(totals, collapse = "; "))
  },
  account_effective = function(n) {
    sprintf("effektive Basis %s", format_count(n))
  },
  more_than_expected = "mehr als erwartet",
  fewer_than_expected = "weniger als erwartet",
  largest_of_line = "gr\u00f6\u00dfter Anteil",
  workbook.contents = "Inhalt",
  workbook.data = "Daten, eine Zeile je Zelle",
  workbook.live = "Rechnung",
  live_about = function(weighted) {
    paste0("Die unterlegten Zahlen sind eingegeben",
           if (weighted) ", auch was aus Gewichten und Stichprobenplan kommt",
           paste("; alles andere wird daraus durch Formeln berechnet. Daneben",
                 "stehen die Zahlen der Tabelle, wie sie "),
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
  to_paste = "Vorgeschlagener Text",
  section.write_up = "Vorgeschlagener Text",
  tables = "Tabellen",
  several_tables = function(number) sprintf("%d Tabellen", number),
  see = function(remedy) sprintf("Siehe %s.", remedy),
  figure_base = function(n, weight) {
    sprintf("n = %s%s.", format_count(n),
            if (is.null(weight)) "" else sprintf(", gewichtet mit %s", weight))
  },
  each_statement = "Aussage",
  figure_key.shares = function(question, ticks) {
    sprintf("Anteile je %s; Befragte in Klammern.", question)
  },
  figure_key.within = function(question, ticks) {
    sprintf("Anteile je %s.", question)
  },
  figure_key.total = function(question, ticks) "Anteile an allen Befragten.",
  figure_key.n = function(question, ticks) {
    sprintf("Befragte, nach %s.", question)
  },
  figure_key.weighted = function(question, ticks) {
    sprintf("Gewichtete Anzahlen, nach %s; Befragte in Klammern.", question)
  },
  figure_key.balance = function(question, ticks) {
    sprintf(paste("Anteile je %s; fett die Summen links und",
                  "rechts der Mitte; Befragte in Klammern."), question)
  },
  figure_key.dots = function(question, alpha) {
    sprintf("Anteile je %s, mit Konfidenzintervallen (%s).",
            question, confidence_words(alpha))
  },
  figure_key.change = function(question, alpha) {
    sprintf("Anteile je %s, mit Konfidenzintervallen (%s).",
            question, confidence_words(alpha))
  },
  figure_key.mosaic = function(question) {
    sprintf(paste(paste("Breiten: Anteile von %s; H\u00f6hen: Anteile darin.",
                        "Farbe: adjustiertes Residuum; + mehr,"),
                  "\u2212 weniger als erwartet, nach Korrektur markiert."),
            question)
  },
  figure_key.map = function(share, little) {
    sprintf(paste("Antworten mit \u00e4hnlichem Profil liegen beieinander.",
                  "Das Bild zeigt %s der Statistik%s."),
            percent_words(share, 0L),
            if (little)
              ": das ist wenig, also sind auch die Residuen anzusehen" else "")
  },
  figure_axis = function(axis, share) {
    sprintf("Achse %d (%s der Statistik)", axis, percent_words(share, 0L))
  },
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
  page.hint = paste(paste("Auf eine Zelle zeigen oder tippen, oder mit",
                          "Tabulator und Pfeiltasten durch die Tabelle gehen,"),
                    "um zu sehen, woher ihr Wert kommt."),
  page.share_of = "Anteil: {whose}",
  page.everybody = "alle Befragten",
  page.ci = function(alpha) {
    sprintf("%s-KI {low} bis {high}", confidence_words(alpha))
  },
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
  figure_residuals = paste("Adjustierte Residuen: + mehr, \u2212 weniger als",
                           "erwartet; * nach Korrektur markiert."),

  # ---- the paragraph ----
  null_unrelated = function(down, across, within) {
    sprintf("dass %s und %s unabh\u00e4ngig sind%s", down, across, within)
  },
  null_symmetric = function(down, across, within) {
    sprintf("dass Antworten von %s zu %s in beide Richtungen gleich oft wechseln%s",
            down, across, within)
  },
  within = function(each, answer) sprintf(" (%s: %s)", each, quoted(answer)),
  rejected = function(null, alpha) {
    sprintf("Die Nullhypothese, %s, wird auf dem Niveau %s verworfen.", null,
            format_alpha(alpha))
  },
  not_rejected = function(null, alpha) {
    sprintf("Die Nullhypothese, %s, wird auf dem Niveau %s nicht verworfen.", null,
            format_alpha(alpha))
  },
  not_tested = function(down, across, within, reason) {
    sprintf("%s wurde nicht gepr\u00fcft%s: %s", if (nzchar(across))
      sprintf("%s nach %s", down, across) else down, within, in_words(reason))
  },
  at_level = function(alpha) sprintf(" auf dem Niveau %s", format_alpha(alpha)),
  corrected_over_each = function(p, tables, each, correction, still) {
    sprintf("\u00dcber die %d Tabellen von %s (%s): %s%s", tables, each,
            corrections[[correction]], format_p(p),
            if (still) "" else ", nicht mehr signifikant")
  },
  standardised_rule = function(by, to, alpha, classes, share) {
    sprintf("Standardisiert nach %s auf %s (%s); Intervalle mit %s Konfidenz", by,
            switch(to, total = "alle in der Tabelle", given = "die gegebenen Anteile",
                   sprintf("die Zusammensetzung von %s", to)),
            paste(sprintf("%s %s", classes, percent_words(share, 1L)), collapse = "; "),
            confidence_words(alpha))
  },
  standardised_left_out = function(records, by) {
    sprintf("%s %s ohne Antwort auf %s nicht dabei.", format_count(records),
            plural(records, "Datensatz ist", "Datens\u00e4tze sind"), by)
  },
  standardised_undefined = function(across, class) {
    sprintf("%s l\u00e4sst sich nicht standardisieren: Niemand dort ist in der Klasse %s.",
            across, class)
  },
  gini = "Gini-Koeffizient",
  held_by_top = function(top) sprintf("Anteil der obersten %s %%", top),
  number_rule = function(label, alpha) {
    sprintf("%s; Intervalle mit %s Konfidenz", label, confidence_words(alpha))
  },
  grouped_rule = function(width) {
    sprintf("Interpoliert in Klassen der Breite %s (Mitten bei deren Vielfachen): gruppierte Daten.",
            in_house_style(format(width, scientific = FALSE), FALSE))
  },
  wave_breaks = function(wave, why) {
    sprintf("Ab %s beginnt die Reihe neu%s; dar\u00fcber hinweg wird nicht verglichen.", wave,
            ifelse(nzchar(why), sprintf(" (%s)", why), ""))
  },
  wave.column = "Welle",
  quantiles_alt = function(label, values) {
    sprintf("Die Verteilung von %s nach Spalten. Mediane: %s.", label,
            paste(values, collapse = "; "))
  },
  claim_line = function(claim, figures) sprintf("%s: %s", claim, figures),
  claim_sentence = function(claim, figures) sprintf("%s (%s).", claim, figures),
  claim_headline = function(claim, cells) {
    sprintf("%s: %s", claim, paste(cells, collapse = "; "))
  },
  before_handing_on = function(file, cautions, more) {
    others <- ifelse(more > 0, sprintf(" (und %d weitere %s)", more,
                                       plural(more, "Tabelle", "Tabellen")), "")
    paste(c(sprintf("Bevor Sie %s weitergeben:", file),
            paste0("  ", sub("[.]$", "", cautions), others, ".")), collapse = "\n")
  },
  who_compared = function(down, across, within, n, design, left) {
    sprintf("%s wurde nach %s%s unter %s %s verglichen%s%s.", down, across,
            within, format_count(n), plural(n, "Person", "Befragten"), design,
            left)
  },
  who_weighted = function(weight, effective, design, calibrated_to = NULL) {
    sprintf(" (gewichtet mit %s%s; effektive Basis %s%s)", weight,
            if (length(calibrated_to))
              paste(", kalibriert an", list_with_and(unlist(calibrated_to))) else "",
            format_count(effective),
            if (length(design))
              paste0("; Stichprobenplan mit ",
                     paste(design, collapse = " und ")) else "")
  },
  who_imputed = function(imputations) {
    sprintf(", \u00fcber %d imputierte Datens\u00e4tze", as.integer(imputations))
  },
  who_design = function(design) {
    sprintf(" (Stichprobenplan mit %s)", paste(design, collapse = " und "))
  },
  design.stratum = "Schichten",
  design.cluster = "Klumpen",
  design.replicates = "Replikationsgewichten",
  who_left_out = function(left, records, reasons) {
    sprintf("; %s von %s Datens\u00e4tzen %s%s", format_count(left),
            format_count(records),
            plural(left, "blieb unber\u00fccksichtigt",
                   "blieben unber\u00fccksichtigt"),
            if (length(reasons))
              paste0(": ", paste(reasons, collapse = "; ")) else "")
  },
  test_chosen = function(reason) {
    sprintf("Der Test wurde gew\u00e4hlt, weil %s.", in_words(reason))
  },
  equivalence = function(margin, high, alpha) {
    if (high <= margin)
      sprintf("Der Zusammenhang ist kleiner als die Schranke V = %s (%s-KI bis %s)",
              strength_words(margin), confidence_words(alpha),
              format_strength(high)) else
      sprintf("Die Tabelle zeigt nicht, dass der Zusammenhang kleiner ist als die Schranke V = %s (%s-KI bis %s)",
              strength_words(margin), confidence_words(alpha),
              format_strength(high))
  },
  no_evidence = "Das ist kein Beleg daf\u00fcr, dass es keinen Zusammenhang gibt.",
  small_at_most = function(high) {
    sprintf(paste("Ein Zusammenhang, wenn es einen gibt, ist klein: Das Intervall",
                  "von V reicht bis %s."), format_strength(high))
  },
  no_evidence_symmetry = "Das ist kein Beleg daf\u00fcr, dass sich nichts ver\u00e4ndert hat.",
  trend_sentence = function(figures) {
    sprintf("Beide Fragen sind geordnet; es gibt einen linearen Trend (%s).",
            figures)
  },
  no_trend_sentence = function(figures) {
    sprintf(paste("Beide Fragen sind geordnet; f\u00fcr einen linearen Trend",
                  "gibt es keinen Beleg (%s)."), figures)
  },
  strength_sentence = function(figures) {
    sprintf("St\u00e4rke des Zusammenhangs: %s.",
            paste(figures, collapse = "; "))
  },
  where_column = function(down, across, share, overall) {
    sprintf("%s in %s antworteten %s, insgesamt %s", percent_words(share),
            quoted(across), quoted(down), percent_words(overall))
  },
  where_row = function(down, across, share, overall) {
    sprintf("von denen mit %s geh\u00f6ren %s zu %s, insgesamt %s",
            quoted(down), percent_words(share), quoted(across),
            percent_words(overall))
  },
  where_total = function(down, across, share, overall) {
    sprintf("%s mit %s: %s von allen", quoted(down), quoted(across),
            percent_words(share))
  },
  where_more = function(cells) {
    sprintf("Mehr als erwartet: %s.", paste(cells, collapse = "; "))
  },
  where_fewer = function(cells) {
    sprintf("Weniger als erwartet: %s.", paste(cells, collapse = "; "))
  },
  where_spread = paste(paste("Nach der Korrektur sticht keine einzelne Zelle",
                             "hervor, was kein Widerspruch ist: der"),
                       "Zusammenhang verteilt sich auf viele Zellen."),
  reach_sentence = function(power, v, high) {
    if (v >= 1)
      return(paste("Die Tabelle ist zu klein, um auch nur einen vollkommenen",
                   "Zusammenhang sicher zu entdecken."))
    sprintf("Die Tabelle h\u00e4tte V ab %s entdecken k\u00f6nnen (Testst\u00e4rke %s)%s.",
            strength_words(v), percent_words(power, 0L), if (is.na(high)) "" else
              sprintf("; V bis %s ist nicht ausgeschlossen", strength_words(high)))
  },
  with_care = function(cautions) {
    paste("Einschr\u00e4nkungen:", paste(cautions, collapse = " "))
  },

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
  test.cochran_q = "Cochrans Q",
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
    sprintf("%s %s in %s %s%s.", format_count(tables),
            plural(tables, "Tabelle", "Tabellen"), format_count(chapters),
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
    sprintf(paste(paste("%s %s auf Unabh\u00e4ngigkeit%s. W\u00e4re nichts",
                        "zusammenh\u00e4ngend, w\u00e4ren etwa %s"),
                  paste("davon auf dem Niveau %s zuf\u00e4llig signifikant;",
                        "nach der Korrektur \u00fcber alle"),
                  "(Benjamini-Hochberg) %s %s."), format_count(tests),
            plural(tests, "Test", "Tests"), if (part) " im ganzen Buch" else "",
            if (expected < 10) format_number(expected, 2L - (expected >= 1)) else
              format_count(expected), format_alpha(alpha),
            plural(significant, "ist es", "sind es"),
            if (significant) format_count(significant) else "keiner")
  },
  summary.cell = function(down, across, share, overall, percent) {
    if (percent == "total")
      return(sprintf("%s mit %s: %s von allen", down, across,
                     percent_words(share)))
    if (percent == "row")
      return(sprintf("%s bei %s: %s, insgesamt %s", across, down,
                     percent_words(share), percent_words(overall)))
    sprintf("%s in %s: %s, insgesamt %s", down, across, percent_words(share),
            percent_words(overall))
  },
  finding.none = function(across) {
    sprintf("Kein signifikanter Unterschied nach %s nach der Korrektur \u00fcber das ganze Buch.",
            list_with(across, "oder"))
  },
  finding.untested = "Kein Test war m\u00f6glich.",
  finding.related = function(across, v, strongest) {
    sprintf("Unterscheidet sich nach %s%s%s.", across,
            if (is.na(v)) "" else
              sprintf(" (Cram\u00e9rs V = %s)", format_strength(v)),
            if (is.na(strongest)) "" else sprintf(": %s", strongest))
  },
  front.title = "Zu diesen Tabellen",
  front.definitions = "Begriffe",
  front.summary = "Welche Fragen zusammenh\u00e4ngen",
  front.index = "Verzeichnis der Fragen",
  front.account = function(records, n, reasons) {
    sprintf(paste("%s Datens\u00e4tze wurden gelesen; %s Befragte k\u00f6nnen in den",
                  "Tabellen stehen%s. Dar\u00fcber hinaus fehlt in jeder Tabelle, wer",
                  "ihre Fragen nicht beantwortet hat."),
            format_count(records), format_count(n),
            if (length(reasons))
              paste0(" (ausgelassen: ", list_some(reasons), ")") else "")
  },
  front.design = function(weight, strata, stratum, clusters, cluster,
                          replicates) {
    parts <- c(if (!is.null(strata))
                 sprintf("%s Schichten (%s)", format_count(strata), stratum),
               if (!is.null(clusters))
                 sprintf("%s Klumpen (%s)", format_count(clusters), cluster),
               if (replicates > 0)
                 sprintf("%s Replikatgewichte", format_count(replicates)))
    if (is.null(weight) && !length(parts))
      return(paste("Die Befragten gelten als einfache Zufallsstichprobe; jeder",
                   "z\u00e4hlt als einer."))
    sprintf(paste("Prozente sind %s; Tests, Intervalle und Markierungen",
                  "folgen dem Stichprobenplan%s."),
            if (is.null(weight)) "ungewichtet" else
              sprintf("gewichtet mit %s", weight),
            if (length(parts)) paste0(": ", list_with(parts, "und")) else "")
  },
  front.weights = function(n, effective, clustered) {
    sprintf(paste("Die Gewichte sind ungleich: der effektive Stichprobenumfang",
                  "nach Kish ist %s von %s Befragten%s."),
            format_count(effective), format_count(n),
            if (clustered) ", ohne die Klumpen" else "")
  },
  front.repeated = function(ids) {
    sprintf("%s %s mehr als einmal vor: jede Tabelle z\u00e4hlt eine solche Person so oft.",
            format_count(ids), plural(ids, "Kennung kommt", "Kennungen kommen"))
  },
  definition.base = "Basis",
  definition.base.text = paste(
    "Prozente beziehen sich auf die, die die Fragen der Tabelle beantwortet haben;",
    "wie viele Menschen", "das sind, steht ungewichtet bei den Befragten."),
  definition.weight = "Gewichtete Basis",
  definition.weight.text = paste(
    "Die Summe der Gewichte dieser Befragten: f\u00fcr wie viele Menschen sie",
    "stehen. Wie sicher eine",
    "Zahl ist, sagen die Befragten und die effektive Basis."),
  definition.test = "Test",
  definition.test.text = function(designed, alpha) {
    sprintf(paste(paste("Ob die Antworten unten und oben unabh\u00e4ngig sein",
                        "k\u00f6nnten, auf dem Niveau %s%s."),
                  "\u201eNicht signifikant\u201c",
                  paste("hei\u00dft nicht \u201ekein Unterschied\u201c: eine",
                        "kleine Basis kann ihn verbergen.")),
            list_with(format_alpha(alpha), "oder"),
            if (designed)
              ", nach dem Stichprobenplan (Rao-Scott, zweiter Ordnung)" else "")
  },
  definition.strength = "Cram\u00e9rs V",
  definition.strength.text = paste(
    "Wie stark ein Zusammenhang ist, von 0 (keiner) bis 1 (so stark wie",
    "m\u00f6glich), mit seinem",
    "95-%-Intervall. Bei vielen Befragten kann auch ein sehr schwacher",
    "signifikant sein."),
  definition.marks = "Markierungen",
  definition.marks.text = paste(
    "+ und \u2212 stehen bei Zellen mit mehr oder weniger Befragten, als es ohne",
    "Zusammenhang w\u00e4ren,",
    "korrigiert \u00fcber die Zellen der Tabelle; Buchstaben und Differenzen sind",
    "dort erkl\u00e4rt, wo sie stehen."),
  definition.many = "Viele Tests",
  definition.many.text = paste(
    "Ein Buch enth\u00e4lt so viele Tests, dass einige zuf\u00e4llig signifikant",
    "sind. \u00dcbersicht und Befunde nutzen",
    "p-Werte, die \u00fcber das ganze Buch korrigiert sind (Benjamini-Hochberg)."),
  definition.change = "Ver\u00e4nderung",
  definition.change.text = function(waves) {
    sprintf(paste(paste("Prozentpunkte von %s bis %s, mit Zeichen, wo sie",
                        "signifikant ist. Gleich benannte Klumpen beider"),
                  "Wellen gelten als dieselben."), waves[1L],
            waves[length(waves)])
  },
  # ---- the desk ----
  desk.name = "Tabellentisch",
  desk.records = "Datens\u00e4tze",
  desk.records_in = function(file, n) {
    sprintf("%s, %s Datens\u00e4tze", file, format_count(n))
  },
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
  desk.find_for.across = paste("Frage w\u00e4hlen, nach der verglichen wird:",
                               "Pfeiltasten und Eingabetaste."),
  desk.find_for.each = paste("Frage w\u00e4hlen, deren Antworten je eine",
                             "Tabelle haben: Pfeiltasten und Eingabetaste."),
  desk.compare = "Vergleiche",
  desk.by = "nach",
  desk.each = "f\u00fcr jede",
  desk.add.down = "eine Frage",
  desk.add.across = "+ Frage",
  desk.add.each = "+ Frage",
  desk.turn = "Zeilen und Spalten tauschen",
  desk.clear = "Von vorn beginnen",
  desk.open_answers = function(question, across) {
    sprintf("Antworten auf %s%s", question,
            if (across) " (Alt mit Pfeiltaste: an anderer Stelle)" else "")
  },
  desk.take_away = function(question) sprintf("Wegnehmen: %s", question),
  desk.undo = "R\u00fcckg\u00e4ngig",
  desk.redo = "Wiederholen",
  desk.undo_what = function(what = NULL) {
    if (is.null(what)) "Nichts r\u00fcckg\u00e4ngig zu machen" else
      sprintf("R\u00fcckg\u00e4ngig: %s", what)
  },
  desk.redo_what = function(what = NULL) {
    if (is.null(what)) "Nichts zu wiederholen" else
      sprintf("Wiederholen: %s", what)
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
  desk.sort.mean = "nach Mittelwert",
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
  desk.show.index = "Index gegen alle",
  desk.show.interval = "Konfidenzintervall",
  desk.show.given = "Vorgegebene Prozent",
  desk.show.difference = "Unterschied",
  desk.show.difference_interval = "Intervall des Unterschieds",
  desk.show.expected = "Erwartete H\u00e4ufigkeit",
  desk.show.residual = "Residuum",
  desk.show.pearson = "Pearson-Residuum",
  desk.show.adjusted = "Adjustiertes Residuum",
  desk.show.contribution = "Beitrag zu Chi-Quadrat",
  desk.who = "Stichprobe und Basis",
  desk.trust = "Kann ich ihr trauen?",
  desk.hand_on = "Was gebe ich weiter?",
  desk.trust_later = paste("Hier werden der Test, die St\u00e4rke und die",
                           "Vorbehalte der Tabelle stehen."),
  desk.nothing_to_test = "In dieser Tabelle gibt es nichts zu testen.",
  desk.none = "keine",
  desk.design = "Stichprobenplan:",
  desk.design_given = paste("Der Stichprobenplan ist der, mit dem der",
                            "Tabellentisch ge\u00f6ffnet wurde."),
  desk.told.weight = function(name) sprintf("gewichtet mit %s", name),
  desk.told.stratum = function(name) sprintf("Schichten: %s", name),
  desk.told.cluster = function(name) sprintf("Klumpen: %s", name),
  desk.told.replicates = function(number) {
    sprintf("%d Replikationsgewichte", number)
  },
  desk.told.none = "jeder Datensatz z\u00e4hlt gleich",
  desk.role.weight = "Gewicht",
  desk.role.stratum = "Schicht",
  desk.role.cluster = "Klumpen",
  desk.role.id = "Person",
  desk.role.count = "Anzahl",
  desk.likely = function(columns) {
    sprintf("Wie die Namen nahelegen: %s", paste(columns, collapse = ", "))
  },
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
  desk.step.band = function(question, told) {
    sprintf("%s in Klassen ab %s", question, list_some(told))
  },
  desk.step.regroup = function(question, told) {
    sprintf("%s: Antworten zusammengefasst zu %s", question,
            list_some(quoted(told)))
  },
  desk.step.order_answers = function(question, told) {
    sprintf("%s in der Reihenfolge %s", question, list_some(told, 3L))
  },
  desk.step.label_answers = function(question, told) {
    sprintf("%s: Codes hei\u00dfen %s", question, list_some(quoted(told)))
  },
  desk.step.retitle = function(question, told) {
    sprintf("%s hei\u00dft %s", question, quoted(told))
  },
  desk.step.net = function(question, told) {
    sprintf("%s: Zwischensumme %s", question, list_some(quoted(told)))
  },
  desk.step.score = function(question, told) {
    if (length(told))
      sprintf("%s mit den Werten %s", question, list_some(told)) else
      sprintf("%s: mit Mittelwerten", question)
  },
  desk.step.ticks = function(question, told) {
    sprintf("%s: Mehrfachantworten aus %s", question, list_some(told, 3L))
  },
  desk.step.battery = function(question, told) {
    sprintf("%s: Aussagen %s", question, list_some(told, 3L))
  },
  desk.kind.answers = "Antworten",
  desk.kind.ordered = "geordnete Antworten",
  desk.kind.ticks = "Mehrfachantworten",
  desk.kind.number = "Zahl",
  desk.kind.text = "Text",
  desk.kind.other = "keine einzelnen Werte",
  desk.kind.empty = "nur eine Antwort",
  desk.kind.design = "Stichprobenplan",
  desk.begin = "Was m\u00f6chten Sie vergleichen?",
  desk.begin_how = paste(paste("Ziehen Sie eine Frage aus der Liste in den",
                               "Satz dar\u00fcber, oder w\u00e4hlen Sie sie",
                               "und"),
                         "dr\u00fccken Sie eine der Schaltfl\u00e4chen unter der Liste."),
  desk.begin_keys = paste(paste("Mit der Tastatur: / f\u00fchrt zur Suche,",
                                "die Pfeiltasten zu einer Frage, die",
                                "Eingabetaste"),
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
  desk.the_tray = function(number) {
    sprintf("die Ablage (%d %s)", number, plural(number, "Tabelle", "Tabellen"))
  },
  desk.as = "als",
  desk.save = "Speichern",
  desk.saved = "Gespeichert: {name}",
  desk.copied = "Kopiert.",
  desk.title = function(down, across, each = NULL, among = NULL) {
    paste0(down, if (length(across)) paste(" nach", list_with(across, "und")),
           if (!is.null(each)) paste(", je", each),
           if (!is.null(among)) paste0(" (", among, ")"))
  },
  desk.leave.code = "Als R-Code",
  desk.leave.command = "Als Befehl",
  desk.leave.plan = "Als Tabellenplan",
  desk.lost = paste("Das Programm hinter dieser Seite ist beendet oder",
                    "antwortet nicht. Was Sie sehen, bleibt, wie es ist."),
  desk.again = "Noch einmal versuchen",
  desk.is_design = "Diese Spalte geh\u00f6rt zum Stichprobenplan.",
  desk.choose_first = "W\u00e4hlen Sie zuerst Antworten.",
  desk.name_first = "Geben Sie zuerst einen Namen.",
  desk.verb.ticks = "Mehrfachantworten bilden",
  desk.verb.battery = "Eine Tabelle von Aussagen daraus machen",
  desk.statements = "Mit diesen Spalten als Aussagen",
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
  desk.as_it_would_be = function(question) {
    sprintf("Wie sie w\u00e4re: %s", question)
  },
  desk.account_after = function(before, after, records) {
    sprintf("In der Tabelle: %s von %s Datens\u00e4tzen%s.",
            format_count(after), format_count(records),
            if (before == after) ", wie zuvor" else
              sprintf(" (zuvor: %s)", format_count(before)))
  },
  desk.close = "Schlie\u00dfen",
  view_base_short.column = "jede Spalte",
  view_base_short.row = "jede Zeile",
  view_base_short.total = "alle Befragten",
  view_base_short.none = "keine: H\u00e4ufigkeiten",
  wave.before = "Vorher",
  wave.now = "Jetzt",
  wave.nth = function(n) sprintf("Welle %d", n),
  wave_any_change = function(figures) {
    sprintf("Irgendeine Ver\u00e4nderung \u00fcber die Wellen: %s", figures)
  },
  wave_trends = function(answers, slope, low, high, correction, alpha) {
    how <- sprintf("%s \u00fcber die Antworten; Niveau %s",
                   name_of("correction", correction), format_alpha(alpha))
    if (!length(answers))
      return(sprintf("Keine Antwort steigt oder f\u00e4llt stetig \u00fcber die Wellen (%s)",
                     how))
    sprintf("Linearer Trend, Punkte je Welle: %s (%s)",
            paste(sprintf("%s %s (%s-KI %s bis %s)", quoted(answers),
                          slope, confidence_words(alpha), low, high),
                  collapse = "; "), how)
  },
  wave_label = "Welle",
  wave_title = function(question, waves) {
    sprintf("%s: von %s bis %s", question, waves[1L], waves[length(waves)])
  },
  wave.none = "Kein Vergleich mit der Welle zuvor",

  # ---- results, figures and books ----
  infinite = "unendlich",
  undefined = "nicht definiert",
  as_written = function(text) text,
  reason_of_question = function(question, reason) {
    sprintf("%s: %s", question, reason)
  },
  banded = function(bands, closed, ends, least) {
    sprintf("in Klassen eingeteilt, die bei %s %s%s",
            paste(number_text(ends), collapse = ", "),
            if (closed == "left") "beginnen" else "enden",
            if (is.na(least)) "" else
              sprintf(", jede mit mindestens %s Befragten",
                      format_count(least)))
  },
  joined = function(new, old) {
    sprintf("%s fasst %s zusammen", quoted(new),
            paste(quoted(old), collapse = ", "))
  },
  renamed = function(new, old) {
    sprintf("%s hie\u00df %s", quoted(new), quoted(old))
  },
  made_missing = function(new, old) {
    sprintf("%s auf fehlend gesetzt (%s)", paste(quoted(old), collapse = ", "),
            new)
  },
  order_lost = paste("nicht mehr geordnet, da Antworten zusammengefasst",
                     "wurden, die nicht nebeneinander liegen"),
  paired_answers = function(questions) {
    sprintf("Paare von Antworten auf %s", paste(questions, collapse = " und "))
  },
  scored = function(by, items, least) {
    sprintf("%s von %s, bei mindestens %d Antworten", by,
            paste(items, collapse = ", "), least)
  },
  no_variance = paste(paste("die Residuen haben hier keine Varianz: der",
                            "Zusammenhang ist an seiner Grenze, oder alle"),
                      "Klumpen stimmen \u00fcberein"),
  margins_too_unequal = "die R\u00e4nder sind zu ungleich, um die Designeffekte zu berechnen",
  exact_not_with_design = "mit Gewichten oder Stichprobenplan nicht verf\u00fcgbar",
  exact_too_many = function(most) {
    sprintf("\u00fcber %s Befragten nicht berechnet; Chi-Quadrat ist dort ebenso gut",
            format_count(most))
  },
  changes_no_variance = paste("die Wechsel der Antwort haben keine Varianz:",
                              "alle Klumpen stimmen \u00fcberein"),
  one_answer_only = "es gibt nur eine Antwort, also nichts zu vergleichen",
  scores_all_same = "alle Befragten haben bei einer der Fragen denselben Wert",
  trend_no_variance = paste("unter dem Stichprobenplan hat er keine Varianz",
                            "oder keine Freiheitsgrade"),
  why_design_not_exact = paste(
    "die Daten haben Gewichte oder einen Stichprobenplan, wof\u00fcr es keinen exakten",
    "p-Wert gibt"),
  why_exact_too_large = paste(
    paste("die erwarteten H\u00e4ufigkeiten sind f\u00fcr Chi-Quadrat zu",
          "klein, die Tabelle f\u00fcr den"), "exakten Test aber zu gro\u00df"),
  why_paired_design = paste(paste("dieselbe Frage wurde zweimal gestellt, und",
                                  "die Daten haben Gewichte oder einen"),
                            "Stichprobenplan"),
  why_few_changed = function(changed) {
    sprintf("dieselbe Frage wurde zweimal gestellt, und nur %s %s die Antwort gewechselt",
            format_count(changed),
            plural(changed, "Person hat", "Befragte haben"))
  },
  why_means = "die Frage ist eine Zahl, deren Mittelwerte verglichen werden",
  means_no_variance = "eine Spalte hat keine Varianz oder zu wenige Befragte",
  not_of_means = "kein Ma\u00df f\u00fcr Mittelwerte",
  effects_at_fit = "Designeffekte an der Unabh\u00e4ngigkeitsanpassung",
  effects_at_fit_needed = paste("Designeffekte an der",
                                "Unabh\u00e4ngigkeitsanpassung, da sie am",
                                "Sch\u00e4tzwert nicht definiert sind"),
  first_order_only = function(most) {
    sprintf(paste(paste("erste Ordnung, an der Unabh\u00e4ngigkeitsanpassung:",
                        "die zweite Ordnung wird \u00fcber %s"),
                  "Freiheitsgraden nicht berechnet"), format_count(most))
  },
  trend_scores = function(scores, r) {
    sprintf("%s; r = %s",
            c(given = "angegebene Werte", equal = "Werte 1, 2, 3, ...",
              midranks = "mittlere R\u00e4nge")[[scores]], format_strength(r))
  },
  exact_margins_fixed = paste("bei festen R\u00e4ndern; alle Tabellen, die",
                              "nicht wahrscheinlicher sind als diese"),
  random_tables = function(draws, seed, se) {
    sprintf("%s Zufallstabellen mit diesen R\u00e4ndern, Startwert %s; Standardfehler %s",
            format_count(draws), format(seed), format(se, digits = 2))
  },
  random_tables_over_budget = function(draws, seed, se) {
    sprintf(paste(paste("der exakte Test ist zu gro\u00df; %s Zufallstabellen",
                        "mit diesen R\u00e4ndern, Startwert %s;"),
                  "Standardfehler %s"), format_count(draws), format(seed),
            format(se, digits = 2))
  },
  one_sided_more = "einseitig: erste Zeile und erste Spalte gehen zusammen",
  one_sided_fewer = "einseitig: erste Zeile und erste Spalte gehen auseinander",
  symmetry_binomial = "Binomialtest der Befragten, die gewechselt haben",
  second_order = "Rao-Scott, zweite Ordnung",
  empty_cell_at_bound = paste("eine Zelle ist leer; der Wert liegt an seiner",
                              "Grenze und hat keinen Standardfehler"),
  not_defined = "f\u00fcr diese Tabelle nicht definiert",
  needs_2x2 = "verlangt zwei Antworten auf jeder Seite",
  needs_paired = "verlangt dieselbe Frage zweimal gestellt (paired)",
  not_known_ordered = paste("ob die Antworten geordnet sind, ist nicht",
                            "bekannt; verwendet wird die Reihenfolge der",
                            "Tabelle"),
  goes_with = function(first, second) {
    sprintf("%s geht mit %s", quoted(first), quoted(second))
  },
  se_zero = "der Standardfehler ist in dieser Tabelle 0",
  at_bound = "der Wert liegt an seiner Grenze, doch nicht in jedem Replikat",
  se_zero_at_bound = "der Wert liegt an seiner Grenze, der Standardfehler ist daher 0",
  delta = function(df) {
    if (is.na(df)) "Delta-Methode, Normalverteilung" else
      sprintf("Delta-Methode, t mit %s Freiheitsgraden", format_df(df))
  },
  delta_arctanh = function(df) {
    if (is.na(df)) "Delta-Methode auf der arctanh-Skala, Normalverteilung" else
      sprintf("Delta-Methode auf der arctanh-Skala, t mit %s Freiheitsgraden",
              format_df(df))
  },
  noncentral_chi_square = "nichtzentrales Chi-Quadrat, mit der Varianz der Delta-Methode",
  noncentral_f = function(df) {
    sprintf(paste("nichtzentrales F (Rao-Scott) mit %s Freiheitsgraden des",
                  "Stichprobenplans und der Varianz der Delta-Methode"),
            format_df(df))
  },
  delta_folded = function(df) {
    sprintf("das von |Phi|, Delta-Methode auf der arctanh-Skala, %s",
            if (is.na(df)) "Normalverteilung" else
              sprintf("t mit %s Freiheitsgraden", format_df(df)))
  },
  bootstrap = function(draws, undefined) {
    sprintf("Perzentil-Bootstrap, %s Ziehungen%s", format_count(draws),
            if (undefined)
              sprintf(", in %s davon nicht definiert",
                      format_count(undefined)) else "")
  },
  cohens_size = function(w, size) {
    sprintf("Nach Cohens (1988) Konvention ist w = V Wurzel(min(Zeilen, Spalten) - 1) = %s %s.",
            format_strength(w),
            c(none = "weniger als klein", small = "klein", medium = "mittel",
              large = "gro\u00df")[[size]])
  },
  all_or_none_in_both = "niemand oder alle in beiden",
  more_contrasts_than_df = "der Stichprobenplan hat weniger Freiheitsgrade als der Test",
  no_variance_by_design = "keine Varianz unter dem Stichprobenplan",
  nobody_in = function(answer) {
    sprintf("in %s sind keine Befragten", quoted(answer))
  },
  empty_cell_no_wald = paste("eine Zelle ist leer, daher gibt es kein",
                             "Wald-Intervall; siehe das exakte",
                             "Quotenverh\u00e4ltnis"),
  exact_odds_too_many = paste("f\u00fcr so viele Befragte nicht berechnet;",
                              "das Wald-Intervall ist dort ebenso gut"),
  one_table_only = "die R\u00e4nder lassen nur eine Tabelle zu",
  outcome_no_variance = paste("keine Varianz: niemand oder alle haben das",
                              "Ergebnis, oder alle Klumpen stimmen",
                              "\u00fcberein"),
  empty_cell_no_interval = "kein Intervall: eine Zelle ist leer",
  no_stratum_says = "keine Schicht hat eine Varianz",
  one_stratum = "es gibt nur eine Schicht",
  odds_ratio_at_bound = "das gemeinsame Quotenverh\u00e4ltnis ist 0 oder unendlich",
  too_few_margins = "weniger als zwei Schichten haben alle R\u00e4nder besetzt",
  too_few_full_strata = "weniger als zwei Schichten haben alle vier Zellen besetzt",
  more_strata_than_df = "es gibt mehr Schichten, als der Stichprobenplan Freiheitsgrade hat",
  log_odds_no_variance = paste("das logarithmierte Quotenverh\u00e4ltnis hat",
                               "in einer Schicht keine Varianz"),
  no_full_stratum = "keine Schicht hat zwei Zeilen und zwei Spalten",
  strata_no_variance = "die Schichten lassen keine Varianz \u00fcbrig",
  effects_undefined_sparse = paste("die Designeffekte sind in einer so",
                                   "d\u00fcnn besetzten Tabelle nicht",
                                   "definiert"),
  too_many_cells_to_fit = function(most) {
    sprintf("\u00fcber %s Zellen nicht berechnet", format_count(most))
  },
  no_convergence = "das Modell konvergierte nicht",
  expected_too_small = "die erwarteten H\u00e4ufigkeiten sind f\u00fcr Chi-Quadrat zu klein",
  margins_empty = "zu viele R\u00e4nder sind leer",
  effect_of_weights = "Designeffekt allein der ungleichen Gewichte",
  observed_plain = function(n) "Befragte",
  observed_weighted = function(n) {
    sprintf("gewichtete Anteile, auf die %s Befragten bezogen", format_count(n))
  },
  sum_of_effects = paste(paste("die Summe der verallgemeinerten",
                               "Designeffekte: wie viel Gewichte und Klumpen",
                               "zur Varianz"), "der Residuen beitragen"),
  chance_of_chi_square = function(statistic, df) {
    sprintf("die Wahrscheinlichkeit eines Chi-Quadrats von %s oder mehr mit %s %s",
            working_number(statistic), format_df(df),
            plural(df, "Freiheitsgrad", "Freiheitsgraden"))
  },
  chance_of_f = function(f, df, df_error) {
    sprintf("die Wahrscheinlichkeit eines F von %s oder mehr mit %s und %s Freiheitsgraden",
            working_number(f), format_df(df), format_df(df_error))
  },
  reversal = function(down, across, each, together, p_crude, p_within) {
    ways <- c("gleichsinnig", "gegensinnig")
    if (!together) ways <- rev(ways)
    sprintf(paste(paste("Insgesamt h\u00e4ngen %s und %s %s zusammen (%s),",
                        "innerhalb der Antworten auf %s aber %s (%s): die"),
                  paste("Tabelle ohne %s w\u00fcrde t\u00e4uschen. Berichten",
                        "Sie die Tabelle jeder Antwort.")), quoted(down),
            quoted(across), ways[1L], format_p(p_crude), quoted(each), ways[2L],
            format_p(p_within), quoted(each))
  },
  vanishing = function(down, across, each, p_crude, p_within) {
    sprintf(paste("Insgesamt h\u00e4ngen %s und %s zusammen (%s), innerhalb der",
                  "Antworten auf %s aber ist davon nichts nachzuweisen (%s), und",
                  "weniger als insgesamt: %s k\u00f6nnte den Zusammenhang",
                  "erkl\u00e4ren. Berichten Sie die Tabelle jeder Antwort."),
            quoted(down), quoted(across), format_p(p_crude), quoted(each),
            format_p(p_within), quoted(each))
  },
  heterogeneity = function(down, across, each, test, p) {
    sprintf(paste(paste("Der Zusammenhang zwischen %s und %s ist je nach",
                        "Antwort auf %s verschieden (%s, %s): ein Wert",
                        "f\u00fcr"),
                  "alle w\u00fcrde das verdecken. Berichten Sie die Tabelle jeder Antwort."),
            quoted(down), quoted(across), quoted(each), name_of("test", test),
            format_p(p))
  },
  brief.not_significant = function(power, v, high) {
    sprintf("Nicht signifikant hei\u00dft nicht \u201ekein Unterschied\u201c: %s%s.",
            if (v >= 1) "die Tabelle ist zu klein, um einen zu entdecken" else
              sprintf("V ab %s w\u00e4re entdeckt worden", strength_words(v)),
            if (is.na(high)) "" else
              sprintf("; V bis %s ist nicht ausgeschlossen", strength_words(high)))
  },
  brief.few_clusters = function(df, d) {
    sprintf("Wenige Klumpen: %s %s f\u00fcr einen Test mit %d.", format_df(df),
            plural(df, "Freiheitsgrad", "Freiheitsgrade"), d)
  },
  brief.single_cluster = function(strata, treated) {
    sprintf("%s mit einem Klumpen: %s.",
            plural(length(strata), "Schicht", "Schichten"),
            list_some(strata, 3L))
  },
  brief.tick_all = function(question, example) {
    sprintf(paste("%s sieht nach mehreren Nennungen in einer Antwort aus:",
                  "machen Sie eine Mehrfachfrage daraus."), quoted(question))
  },
  brief.ticks_add_up = function(questions) {
    paste("Mehrere Antworten waren m\u00f6glich: Prozentwerte k\u00f6nnen",
          "zusammen \u00fcber 100 liegen.")
  },
  brief.vanishing = function(down, across, each, p_crude, p_within) {
    sprintf("Innerhalb der Antworten auf %s ist der Zusammenhang von %s und %s weg.",
            each, down, across)
  },
  brief.reversal = function(down, across, each, together, p_crude, p_within) {
    sprintf(paste("Der Zusammenhang kehrt sich innerhalb der Antworten auf %s",
                  "um: berichten Sie jede Tabelle."), quoted(each))
  },
  brief.heterogeneity = function(down, across, each, test, p) {
    sprintf(paste("Der Zusammenhang ist je nach Antwort auf %s verschieden",
                  "(%s): berichten Sie jede Tabelle."), quoted(each),
            format_p(p))
  },
  brief.against_explains = function(explaining, explained, fair, shown) {
    sprintf("Die Prozentwerte laufen verkehrt herum: vergleichen Sie %s.",
            c(column = "Spaltenprozente", row = "Zeilenprozente")[[fair]])
  },
  brief.nested_clusters = function(clusters) {
    sprintf("%d %s in mehr als einer Schicht vor: als verschiedene Klumpen behandelt.",
            length(clusters),
            plural(length(clusters), "Klumpenname kommt",
                   "Klumpennamen kommen"))
  },
  layer_title = function(each, answer) sprintf("%s: %s", each, answer),
  condition.compared = function(label, what) sprintf("%s: %s", label, what),
  condition.equal = function(value) value,
  condition.and = function(parts) paste(parts, collapse = "; "),
  style_not_followed = function(style, form, sections) {
    sprintf("%s: %s folgt dem Abschnitt %s nicht.", style,
            if (form == "text") "das Terminal" else
              sprintf("eine .%s-Datei", form), list_with(sections, "und"))
  },
  layout_not_followed = function(form, choices) {
    sprintf("Eine .%s-Datei hat keinen Platz f\u00fcr das verlangte Aussehen der Tabelle: %s.",
            form, list_with(unlist(choices), "und"))
  },
  means_found = function(question, columns, means, low, high, alpha) {
    each <- sprintf("%s bei %s (%s-KI %s bis %s)", format_number(means),
                    quoted(columns), confidence_words(alpha),
                    format_number(low), format_number(high))
    sprintf("Der Mittelwert von %s ist %s.", question,
            paste(each, collapse = ", "))
  },
  correction.holm = "Holm",
  correction.bonferroni = "Bonferroni",
  correction.benjamini_hochberg = "Benjamini-Hochberg",
  asymmetric = function(down, across, within, level) {
    sprintf("Die Antworten wechselten h\u00e4ufiger in die eine Richtung als in die andere%s%s",
            within, level)
  },
  not_asymmetric = function(down, across, within, level) {
    sprintf(paste("Die Antworten wechselten nicht signifikant h\u00e4ufiger in die eine",
                  "Richtung als in die andere%s%s"), within, level)
  },
  item_line = function(name, p, corrected, v, low, high) {
    sprintf("%s: %s (korrigiert %s), V = %s (%s)", name, format_p(p),
            bare_p(corrected), format_strength(v),
            interval_words(low, high, format_strength))
  },
  item_no_test = function(name, reason) {
    sprintf("%s: kein Test, %s", name, in_words(reason))
  },
  item_by = function(item, by) sprintf("%s nach %s", item, by),
  account_reason = function(reason, records) {
    sprintf("%s (%s)", reason, format_count(records))
  },
  account_standing = function(n) {
    sprintf("stehen f\u00fcr %s %s", format_count(n),
            plural(n, "Person", "Befragte"))
  },
  account_blank = function(lines) {
    sprintf("%s %s der Datei", format_count(lines),
            plural(lines, "leere Zeile", "leere Zeilen"))
  },
  no_live = function(title, reason) {
    sprintf("Kein rechnendes Blatt f\u00fcr %s: %s.", title, reason)
  },
  no_live_alone = "die Tabelle ist von einer einzigen Frage",
  no_live_stored = "sie wurde aus einer Datei gelesen, die Designeffekte fehlen daher",
  no_live_number = "sie ist von einer Zahl, nicht von Antworten",
  no_live_ticks = paste("Punkte, die alle genannt werden k\u00f6nnen, haben",
                        "kein gemeinsames Chi-Quadrat"),
  letters_key = function(compare, correction, alpha, second = NULL) {
    sprintf(paste("Ein Buchstabe: signifikant h\u00f6her als die %s mit diesem",
                  "Buchstaben (zweiseitig; %s \u00fcber die Paare einer %s; Niveau %s%s)"),
            c(columns = "Spalte", rows = "Zeile")[[compare]],
            name_of("correction", correction),
            c(columns = "Zeile", rows = "Spalte")[[compare]],
            format_alpha(alpha), if (is.null(second)) "" else
              sprintf(", Gro\u00dfbuchstaben: Niveau %s", format_alpha(second)))
  },
  letters_all = paste(paste("Buchstaben vergleichen alle Spalten miteinander;",
                            "dass dieselben Personen in mehreren stehen, ist"),
                      "ber\u00fccksichtigt"),
  letters_headings = function(question) {
    sprintf("%s: Buchstaben vergleichen die Antworten unter derselben \u00dcberschrift",
            question)
  },
  against_key = function(against, compare, correction, alpha) {
    line <- c(columns = "Spalte", rows = "Zeile")[[compare]]
    sprintf(paste("\u2191 h\u00f6her, \u2193 niedriger als %s (zweiseitig; %s",
                  "\u00fcber die %sn einer %s; Niveau %s)"),
            switch(against, rest = "unter allen \u00fcbrigen Befragten",
                   total = "unter allen Befragten",
                   previous = sprintf("in der %s davor", line),
                   first = sprintf("in der ersten %s", line),
                   sprintf("in %s", quoted(against))),
            name_of("correction", correction), line,
            c(columns = "Zeile", rows = "Spalte")[[compare]],
            format_alpha(alpha))
  },
  letters_small = function(limit, answers, n) {
    sprintf("Wegen kleiner Basen (unter %d) nicht verglichen: %s", limit,
            bases_words(answers, n))
  },
  survey_of = function(records, questions) {
    sprintf("Umfrage mit %s %s, %s %s", format_count(records),
            plural(records, "Datensatz", "Datens\u00e4tzen"),
            format_count(questions), plural(questions, "Frage", "Fragen"))
  },
  survey_before = function(records, reasons) {
    sprintf("  %s zuvor ausgeschlossen: %s", format_count(records), reasons)
  },
  survey_strata = function(strata) {
    sprintf("  %d %s", strata, plural(strata, "Schicht", "Schichten"))
  },
  survey_clusters = function(clusters) sprintf("  %d Klumpen", clusters),
  survey_replicates = function(replicates, kind) {
    sprintf("  %s Replikationen (%s)", format_count(replicates), kind)
  },
  survey_repeats = function(ids) {
    sprintf("  %d %s mehr als einmal vor", ids,
            plural(ids, "Kennung kommt", "Kennungen kommen"))
  },
  survey_aside = function(records, reasons) {
    sprintf("  %s beiseitegelegt: %s", format_count(records), reasons)
  },
  who_answered = function(within, n, design, left) {
    sprintf("Die Prozentwerte%s sind von %s %s%s%s.", within, format_count(n),
            plural(n, "Person", "Befragten"), design, left)
  },
  answers_given = function(question, within, answers, share, low, high, alpha,
                           ticks) {
    interval <- ifelse(is.na(low), "",
                       sprintf(" (%s-KI %s bis %s)", confidence_words(alpha),
                               format_percent(low), format_percent(high)))
    each <- sprintf("%s%s %s %s", percent_words(share), interval,
                    if (ticks) "nannten" else "antworteten", quoted(answers))
    sprintf("%s%s: %s.", question, within, paste(each, collapse = "; "))
  },
  reading_no_test = "Es gibt keinen Test, also ragt keine Zelle heraus.",
  reading_none = "Keine Zelle weicht von dem ab, was ohne Zusammenhang zu erwarten w\u00e4re.",
  reading_spread = paste(paste("Keine einzelne Zelle ragt heraus, obwohl die",
                               "Tabelle als Ganzes signifikant ist. Das ist",
                               "kein"),
                         paste("Widerspruch: der Test addiert alle Residuen,",
                               "w\u00e4hrend jede Zelle f\u00fcr sich",
                               "\u00fcber den Zufall"),
                         paste("hinausgehen muss, korrigiert f\u00fcr die",
                               "Zahl der gepr\u00fcften Zellen.")),
  reading_cell = function(down, across, residual) {
    sprintf("%s \u00d7 %s (Residuum %s%s)", down, across,
            if (residual > 0) "+" else "", format_number(residual, 1L))
  },
  reading_more = function(cells, more) {
    sprintf("Mehr als erwartet: %s%s.", paste(cells, collapse = "; "),
            if (more) sprintf("; und %d weitere", more) else "")
  },
  reading_fewer = function(cells, more) {
    sprintf("Weniger als erwartet: %s%s.", paste(cells, collapse = "; "),
            if (more) sprintf("; und %d weitere", more) else "")
  },
  reading_not_significant = paste("Die Tabelle als Ganzes ist nicht",
                                  "signifikant: lesen Sie einzelne Zellen mit",
                                  "Vorsicht."),
  section.tests = "Tests",
  section.strength = "Wie stark ist er?",
  section.residuals = "Wo sitzt er?",
  section.differences = "Welche Spalten unterscheiden sich?",
  section.risks = "Gegen einen Vergleichswert",
  section.detectable = "Was sie h\u00e4tte zeigen k\u00f6nnen",
  section.working = "Die Rechnung",
  section.shares = "Prozentwerte",
  section.standardised = "Standardisierte Werte",
  section.quantiles = "Quantile",
  section.inequality = "Ungleichheit",
  section.ratios = "Verh\u00e4ltnisse",
  section.totals = "Hochrechnungen",
  section.means = "Mittelwerte",
  section.items = "Punkt f\u00fcr Punkt",
  section.cautions = "Wie weit ihr zu trauen ist",
  section.goodness = "Gegen bekannte Anteile",
  section.look = "Die Fragen",
  section.verify = "Ver\u00f6ffentlichte Tabellen",
  section.recheck = "Behauptungen und Summen",
  desk.no_command.no_file = paste("Die Datens\u00e4tze kamen nicht aus einer",
                                  "Datei, daher gibt es keinen Befehl, der",
                                  "sie liest."),
  desk.no_command.no_table = "Es gibt noch keine Tabelle.",
  desk.no_command.setting = paste(
    "Eine der Einstellungen ist keine Option des Befehls: nehmen Sie es als R-Code oder als",
    "Tabellenplan mit."),
  desk.no_command.step = paste(
    paste("Eine der \u00c4nderungen an den Fragen ist keine Option des",
          "Befehls: nehmen Sie es als R-Code"), "oder als Tabellenplan mit."),
  desk.no_command.signs = paste(
    "Ein Name oder eine Antwort hat ein Komma, einen Doppelpunkt, ein Semikolon oder ein",
    paste("Gleichheitszeichen, was die Optionen nicht sagen k\u00f6nnen:",
          "nehmen Sie es als R-Code oder"), "als Tabellenplan mit."),
  desk.no_command.condition = paste(
    paste("Der Filter spricht von einer Frage, wie sie hier ge\u00e4ndert",
          "wurde, und der Befehl filtert"),
    "zuerst: nehmen Sie es als R-Code oder als Tabellenplan mit."),
  desk.no_command.order = paste(
    paste("Eine Frage wurde in anderer Reihenfolge ge\u00e4ndert, als der",
          "Befehl arbeitet: nehmen Sie es"),
    "als R-Code oder als Tabellenplan mit."),
  desk.no_plan.several = paste(
    "Die Tabellen der Ablage unterscheiden sich im Stichprobenplan oder in dem, was mit den",
    "Fragen geschah; ein Tabellenplan hat davon je eines. Nehmen Sie sie einzeln mit."),
  desk.internal = function(what) {
    paste0("Das Programm ist gescheitert: ", what,
           ". Nichts wurde ge\u00e4ndert; bitte melden Sie es.")
  },
  controlling_for = function(each) sprintf("Bei festgehaltener Frage %s", each),
  nothing_to_say = "Nichts zu berichten.",
  no_test_sentence = function(reason) sprintf("Kein Test: %s.", reason),
  interval_of = function(measures, way) {
    sprintf("Intervall f\u00fcr %s: %s.", paste(measures, collapse = ", "), way)
  },
  column.measure = "Ma\u00df",
  column.estimate = "Sch\u00e4tzwert",
  column.se = "SE",
  column.answer = "Antwort",
  column.column = "Spalte",
  column.total = "Hochrechnung",
  column.cv = "VK",
  column.missing_information = "fehl. Info.",
  column.crude = "roh",
  column.standardised = "standardisiert",
  column.percent_of = "Quantil, %",
  column.ratio_of = "Verh\u00e4ltnis",
  column.figure = "Ma\u00df",
  column.value = "Wert",
  column.deff = "Designeffekt",
  column.ratio = "Verh\u00e4ltnis",
  column.interval = "Intervall",
  column.p_zero = "p (null)",
  column.cell = "Zelle",
  column.observed = "beobachtet",
  column.expected = "erwartet",
  column.share_of_statistic = "Anteil an X\u00b2",
  column.p_corrected = "p, korrigiert",
  column.corrected = "korrigiert",
  column.within = "In",
  column.higher_in = "ist h\u00f6her in",
  column.than_in = "als in",
  column.shares = "Anteile",
  column.difference = "Differenz",
  column.odds_ratio = "Quotenverh\u00e4ltnis",
  column.test = "Test",
  column.headline = "ma\u00dfgeblich",
  column.df_error = "Nenner-df",
  column.statistic = "Statistik",
  residual.adjusted = "adjustiertes",
  residual.pearson = "Pearson-",
  residual.raw = "rohes",
  smaller_residuals = function(cells) {
    sprintf("und %d %s mit kleineren Residuen", cells,
            plural(cells, "Zelle", "Zellen"))
  },
  marked_beyond = function(residual, critical) {
    sprintf("Markiert: %s Residuum jenseits von \u00b1%s.", residual,
            format_number(critical))
  },
  pairs_rule = function(compare, against, question, correction, alpha) {
    lines <- c(columns = "Spalten", rows = "Zeilen")[[compare]]
    one <- c(columns = "Spalte", rows = "Zeile")[[compare]]
    sprintf("%s in jeder Antwort auf %s; %s \u00fcber die Paare einer %s, Niveau %s.",
            switch(against, `each other` = sprintf("Paare von %s", lines),
                   rest = sprintf("Jede %s gegen alle \u00fcbrigen Befragten",
                                  one),
                   total = sprintf("Jede %s gegen alle Befragten", one),
                   previous = sprintf("Jede %s gegen die davor", one),
                   first = sprintf("Jede %s gegen die erste", one),
                   sprintf("Jede %s gegen %s", one, quoted(against))), question,
            name_of("correction", correction),
            c(columns = "Zeile", rows = "Spalte")[[compare]],
            format_alpha(alpha))
  },
  no_bases_to_compare = function(compare) {
    sprintf("Keine zwei %s haben f\u00fcr einen Vergleich gen\u00fcgend gro\u00dfe Basen.",
            c(columns = "Spalten", rows = "Zeilen")[[compare]])
  },
  none_differs = function(compare, pairs) {
    sprintf("Keine %s unterscheidet sich signifikant von einer anderen (%s %s verglichen).",
            c(columns = "Spalte", rows = "Zeile")[[compare]],
            format_count(pairs), plural(pairs, "Paar", "Paare"))
  },
  pairs_equivalent = function(margin, alpha, pairs, found) {
    sprintf(paste("%s von %s Paaren unterscheiden sich um weniger als %s Punkte",
                  "(zwei einseitige Tests, jeder auf dem Niveau %s)."),
            format_count(found), format_count(pairs),
            format_number(100 * margin, setting("digits")), format_alpha(alpha))
  },
  differences_in_points = "Differenzen in Prozentpunkten; jedes Intervall steht f\u00fcr sich.",
  against = function(outcome, compared, reference) {
    sprintf("%s: %s gegen %s", quoted(outcome), compared, reference)
  },
  shares_against = function(first, second) {
    sprintf("%s gegen %s", first, second)
  },
  with_interval = function(value, low, high) {
    sprintf("%s (%s)", value, words("interval", low = low, high = high))
  },
  with_note = function(value, note) sprintf("%s (%s)", value, note),
  points = function(value) sprintf("%s Punkte", value),
  no_interval = "kein Intervall",
  z_and_p = function(z, p, more, fewer) {
    sprintf("z = %s, %s (einseitig: mehr %s, weniger %s)", format_number(z),
            format_p(p), bare_p(more), bare_p(fewer))
  },
  risk.shares = "Anteile",
  risk.difference = "Differenz",
  risk.needed = "notwendige Zahl",
  risk.relative_risk = "relatives Risiko",
  risk.odds_ratio = "Quotenverh\u00e4ltnis",
  risk.log_odds_ratio = "  sein Logarithmus",
  risk.odds_ratio_exact = "  exakt",
  risk.test = "Test",
  intervals_at = function(alpha, several) {
    sprintf("%s-Konfidenzintervalle%s.", confidence_words(alpha),
            if (several)
              "; jeder Vergleich steht f\u00fcr sich, nicht f\u00fcr ihre Zahl korrigiert" else
              "")
  },
  detectable_none = function(reason) {
    sprintf("kein Test m\u00f6glich: %s.", reason)
  },
  detectable_table = function(r, c, n, alpha, effect) {
    sprintf("%s\u00d7%s-Tabelle mit %s %s, Niveau %s%s", format(r), format(c),
            format_count(n), plural(n, "Person", "Befragten"),
            format_alpha(alpha),
            if (effect == 1) "" else
              sprintf(", Designeffekt %s", format_number(effect)))
  },
  detectable_smallest = function(v, w, power) {
    if (v > 1)
      return(paste("selbst ein vollkommener Zusammenhang w\u00fcrde seltener",
                   "als gew\u00fcnscht gefunden"))
    sprintf(paste("ein Zusammenhang von V = %s oder mehr (w = %s) w\u00e4re",
                  "mit %s Testst\u00e4rke gefunden worden"), format_strength(v),
            format_strength(w), percent_words(power, 0L))
  },
  detectable_power = function(v, power) {
    sprintf("F\u00fcr V = %s ist die Testst\u00e4rke %s.", format_strength(v),
            percent_words(power, 0L))
  },
  detectable_needed = function(power, v, n) {
    sprintf("F\u00fcr %s Testst\u00e4rke bei V = %s braucht die Tabelle etwa %s Befragte.",
            percent_words(power, 0L), format_strength(v), format_count(n))
  },
  pooled_title = function(title, each, n) {
    sprintf("%s, bei festgehaltener Frage %s (%s %s)", title, each,
            format_count(n), plural(n, "Person", "Befragte"))
  },
  pooled_by_design = paste("F-Statistiken, Rao-Scott zweiter Ordnung: sie",
                           "ber\u00fccksichtigen Gewichte und",
                           "Stichprobenplan."),
  pooled_left_out = function(answers) {
    sprintf("Nicht in den Tests, da nur eine Zeile oder Spalte besetzt ist: %s.",
            list_some(answers))
  },
  pooled_care = function(text) sprintf("Vorsicht: %s", text),
  working_observed = function(what) sprintf("1. Beobachtet (%s)", what),
  working_expected = "2. Erwartet ohne Zusammenhang: Zeilensumme \u00d7 Spaltensumme / Summe",
  working_contribution = paste("3. Beitrag jeder Zelle: (beobachtet \u2212",
                               "erwartet)\u00b2 / erwartet"),
  working_example = function(down, across, how, value) {
    sprintf("zum Beispiel %s \u00d7 %s: %s = %s", down, across, how, value)
  },
  working_statistic = function(value) {
    sprintf("4. Ihre Summe ist die Statistik: X\u00b2 = %s", value)
  },
  working_df = function(how, value) {
    sprintf("5. Freiheitsgrade: %s = %s", how, value)
  },
  working_design = function(effect, how, f, value) {
    sprintf("6. Gewichte und Stichprobenplan: geteilt durch %s, %s. F = %s = %s",
            effect, how, f, value)
  },
  working_p = function(step, p, how) sprintf("%d. %s: %s", step, p, how),
  goodness_base = "Prozentwerte derer, die geantwortet haben, gegen vorgegebene Anteile",
  regroup_not_sparse = "Die Tabelle ist nicht d\u00fcnn besetzt: nichts zusammenzufassen.",
  regroup_nothing_left = paste("Nichts l\u00e4sst sich zusammenfassen: auf",
                               "jeder Seite bleiben zwei Antworten."),
  regroup_step = function(question, joined) {
    sprintf("Zusammenfassen in %s: %s", question, joined)
  },
  regroup_small = function(before, after, mended) {
    sprintf("Kleine erwartete H\u00e4ufigkeiten: %s vorher, %s nachher%s.",
            percent_words(before, 0L), percent_words(after, 0L),
            if (mended) "" else ", noch immer zu viele")
  },
  regroup_before = function(figures) sprintf("Vorher: %s", figures),
  regroup_after = function(figures) sprintf("Nachher: %s", figures),
  regroup_not_yet = "Noch ist nichts zusammengefasst: apply = TRUE tut es.",
  power_key = function(power) {
    sprintf(paste(paste("Kreis: der kleinste Zusammenhang, der mit %s",
                        "Testst\u00e4rke gefunden wird. Raute: das gefragte V",
                        "oder das"), "der Tabelle."), percent_words(power, 0L))
  },
  power_title = function(r, c, alpha) {
    sprintf("Was eine %s\u00d7%s-Tabelle zeigen kann (Niveau %s)", format(r),
            format(c), format_alpha(alpha))
  },
  figure_marked = function(cells) {
    if (length(cells))
      sprintf("Markiert: %s.", paste(cells, collapse = "; ")) else
      "Keine Zelle ist markiert."
  },
  figure_balance_bar = function(below, above) {
    sprintf("%s links und %s rechts der Mitte", percent_words(below),
            percent_words(above))
  },
  figure_alt = function(kind, title, finding, values) {
    sprintf("%s: %s. %s", kind, title %||% "",
            paste(c(finding, values), collapse = " "))
  },
  figure_kind.shares = "Balken zu 100\u00a0%",
  figure_kind.items = "Balken der genannten Punkte",
  figure_kind.grouped = "Gruppierte Balken",
  figure_kind.stacked = "Gestapelte Balken von Anzahlen",
  figure_kind.dots = "Punkte mit Intervallen",
  figure_kind.balance = "Balken links und rechts der Mitte",
  figure_kind.change = "Linien \u00fcber die Wellen",
  figure_kind.heat = "Gitter von Prozentwerten",
  figure_kind.residuals = "Gitter adjustierter Residuen",
  figure_kind.mosaic = "Mosaik",
  figure_kind.map = "Karte der Antworten",
  figure_needs.single_answers = paste(
    "Sie verlangt Fragen mit einer Antwort je Person: die Punkte einer Mehrfachfrage ergeben",
    "zusammen nicht 100 %."),
  figure_needs.fewer = paste("Sie fasst h\u00f6chstens 40 Antworten je Seite:",
                             "legen Sie einige mit regroup() zusammen."),
  figure_needs.order = "Sie verlangt geordnete Antworten: ordnen Sie sie mit order_answers().",
  figure_needs.waves = paste(
    "Sie verlangt geordnete Spalten, oder zwei davon: ordnen Sie die Antworten mit",
    "order_answers()."),
  figure_needs.plane = paste("Sie verlangt auf beiden Seiten drei oder mehr",
                             "Antworten; \"residuals\" zeigt kleinere",
                             "Tabellen."),
  power_axis = "Testst\u00e4rke",
  v_axis = "Cram\u00e9rs V in der Grundgesamtheit",
  test.exact_more = "exakter Test, einseitig (mehr)",
  test.exact_fewer = "exakter Test, einseitig (weniger)",
  test.imputed_wald = "Wald-Test imputierter Datens\u00e4tze (D1)",
  test.imputed_likelihood_ratio = "Likelihood-Quotient imputierter Datens\u00e4tze (D3)",
  test.rao_scott_second_likelihood = "Rao-Scott zweiter Ordnung von G\u00b2",
  test.rao_scott_first_likelihood = "Rao-Scott erster Ordnung von G\u00b2",
  test.mantel_haenszel = "Mantel-Haenszel",
  test.mantel_haenszel_corrected = "  mit Stetigkeitskorrektur",
  test.general_association = "allgemeiner Zusammenhang",
  test.mean_scores = "mittlere Werte",
  test.correlation = "Korrelation",
  test.breslow_day_tarone = paste("Homogenit\u00e4t der",
                                  "Quotenverh\u00e4ltnisse (Breslow-Day,",
                                  "Tarone)"),
  test.same_odds_ratio = "Homogenit\u00e4t der Quotenverh\u00e4ltnisse (Wald)",
  test.no_three_way = "keine Dreifach-Wechselwirkung",
  measure.phi = "Phi",
  measure.contingency_coefficient_adjusted = "korrigierter Kontingenzkoeffizient",
  measure.tschuprow_t = "Tschuprows T",
  measure.lambda = "Lambda",
  measure.goodman_kruskal_tau = "Goodman-Kruskal-Tau",
  measure.gamma = "Gamma",
  measure.tau_b = "Tau-b",
  measure.tau_c = "Tau-c",
  measure.somers_d = "Somers' d",
  measure.yule_q = "Yules Q",
  measure.yule_y = "Yules Y",
  measure.pearson_r = "Pearsons r",
  measure.spearman_rho = "Spearmans Rho",
  measure.kappa = "Kappa",
  meaning.cramers_v = function(x, d, a) {
    scale_meaning_de("Cram\u00e9rs V", x, d, a)
  },
  meaning.cramers_v_corrected = function(x, d, a) {
    scale_meaning_de("Das um den Zufall korrigierte V", x, d, a)
  },
  meaning.phi = function(x, d, a) {
    sprintf(paste("Phi ist die Korrelation der beiden Antworten: die eine",
                  "erkl\u00e4rt %s der Varianz der anderen."), whole(x^2))
  },
  meaning.contingency_coefficient = function(x, d, a) {
    sprintf(paste(paste("Der Kontingenzkoeffizient beginnt bei 0 (kein",
                        "Zusammenhang); sein gr\u00f6\u00dfter Wert",
                        "h\u00e4ngt von der Gr\u00f6\u00dfe der"),
                  "Tabelle ab; hier ist er %s."), format_strength(x))
  },
  meaning.contingency_coefficient_adjusted = function(x, d, a) {
    scale_meaning_de("Der korrigierte Kontingenzkoeffizient", x, d, a)
  },
  meaning.tschuprow_t = function(x, d, a) {
    scale_meaning_de("Tschuprows T", x, d, a)
  },
  meaning.lambda_across = function(x, d, a) errors_meaning_de(x, a, d),
  meaning.lambda_down = function(x, d, a) errors_meaning_de(x, d, a),
  meaning.lambda_both = function(x, d, a) {
    sprintf(paste("Eine von %s und %s zu kennen verringert die Fehler beim",
                  "Erraten der anderen um %s, beide Richtungen zusammen."),
            quoted(d), quoted(a), whole(x))
  },
  meaning.goodman_kruskal_tau_across = function(x, d, a) {
    proportional_meaning_de(x, a, d)
  },
  meaning.goodman_kruskal_tau_down = function(x, d, a) {
    proportional_meaning_de(x, d, a)
  },
  meaning.uncertainty_across = function(x, d, a) {
    sprintf("%s zu kennen nimmt %s der Ungewissheit \u00fcber %s weg.",
            quoted(a), whole(x), quoted(d))
  },
  meaning.uncertainty_down = function(x, d, a) {
    sprintf("%s zu kennen nimmt %s der Ungewissheit \u00fcber %s weg.",
            quoted(d), whole(x), quoted(a))
  },
  meaning.uncertainty_both = function(x, d, a) {
    sprintf("%s und %s haben %s ihrer Ungewissheit gemeinsam.", quoted(d),
            quoted(a), whole(x))
  },
  meaning.gamma = function(x, d, a) {
    order_meaning_de(x, pairs_differing_de(d, a))
  },
  meaning.tau_b = function(x, d, a) {
    order_meaning_de(x,
                     sprintf(paste("den Paaren, die sich in %s oder in %s",
                                   "unterscheiden (geometrisches Mittel",
                                   "beider)"), quoted(d), quoted(a)))
  },
  meaning.tau_c = function(x, d, a) {
    order_meaning_de(x,
                     paste("so vielen Paaren, wie sich in einer Tabelle",
                           "dieser Gr\u00f6\u00dfe in beiden Fragen",
                           "unterscheiden k\u00f6nnen"))
  },
  meaning.somers_d_across = function(x, d, a) {
    order_meaning_de(x,
                     sprintf("den Paaren, die sich in %s unterscheiden",
                             quoted(a)))
  },
  meaning.somers_d_down = function(x, d, a) {
    order_meaning_de(x,
                     sprintf("den Paaren, die sich in %s unterscheiden",
                             quoted(d)))
  },
  meaning.somers_d_both = function(x, d, a) {
    order_meaning_de(x,
                     paste("den Paaren, die sich in einer der beiden Fragen",
                           "unterscheiden (Mittel beider)"))
  },
  meaning.yule_q = function(x, d, a) {
    order_meaning_de(x, pairs_differing_de(d, a))
  },
  meaning.yule_y = function(x, d, a) {
    sprintf(paste("Yules Y ist, was Phi w\u00e4re, wenn alle vier R\u00e4nder",
                  "ein Halb w\u00e4ren: %s."), format_strength(x))
  },
  meaning.pearson_r = function(x, d, a) slope_meaning_de("Werte", x, d, a),
  meaning.spearman_rho = function(x, d, a) {
    slope_meaning_de("R\u00e4nge", x, d, a)
  },
  meaning.kappa = function(x, d, a) {
    sprintf(paste("Die \u00dcbereinstimmung liegt %s des Wegs zwischen",
                  "zuf\u00e4lliger und voller \u00dcbereinstimmung."), whole(x))
  },
  column.n = "n",
  column.p = "p",
  column.v_corrected = "V (korrigiert)",
  column.cramers_v = "V",
  column.each = "Von",
  column.low = "von",
  column.high = "bis",
  book.chapter = function(number, title) sprintf("%d. %s", number, title),
  book.internal = function(reason) {
    sprintf("ein Fehler des Programms (%s); bitte melden Sie ihn", reason)
  },
  book.not_in_data = function(tables) {
    sprintf(paste("%s %s nicht als Daten ausgegeben: dort werden Anzahlen",
                  "zur\u00fcckgehalten oder gerundet."),
            paste(plural(length(tables), "Tabelle", "Tabellen"),
                  list_some(tables)), plural(length(tables), "ist", "sind"))
  },
  book.pages = "Seiten dieses Tabellenbands",
  book.progress = "Tabellen",
  book.withheld = paste(paste("Anzahlen dieser Tabelle werden",
                              "zur\u00fcckgehalten oder gerundet, ihre Werte",
                              "sind daher nicht"), "aufgelistet."),
  summary.more = function(rows) {
    sprintf("... und %s weitere.", format_count(rows))
  },
  wave_differs = function(question) {
    sprintf("%s ist nicht in allen Wellen von derselben Art", question)
  },
  wave_answers_differ = function(question, new, gone) {
    sprintf("Die Antworten von %s sind nicht in allen Wellen dieselben%s%s.",
            quoted(question),
            if (length(new))
              sprintf("; nur jetzt: %s", list_some(quoted(new))) else "",
            if (length(gone))
              sprintf("; nur vorher: %s", list_some(quoted(gone))) else "")
  },
  wave_lacks = function(questions) {
    sprintf("Der Welle davor fehlt %s.", list_with(quoted(questions), "und"))
  },
  plan.compared = function(waves) {
    sprintf("Jede Tabelle wird mit %s verglichen.",
            list_with(waves[-length(waves)], "und"))
  },
  plan.tables = function(tables, chapters) {
    sprintf("%s %s in %s %s:", format_count(tables),
            plural(tables, "Tabelle", "Tabellen"), format_count(chapters),
            plural(chapters, "Kapitel", "Kapiteln"))
  },
  plan.outputs = "Geschrieben w\u00fcrden:",
  section.related = "Welche Fragen h\u00e4ngen zusammen?",
  related.progress = "Paare",
  chunks.progress = "Lesen",
  chunks.speed = function(file, speed, left) {
    sprintf("%s, %s Datens\u00e4tze je Sekunde, %s",
            if (left < 90) sprintf("noch %.0f s", left) else
              sprintf("noch %.0f min", left / 60),
            format_count(signif(speed, 2L)), file)
  },
  related.ticked = "Genannt",
  related.not_ticked = "Nicht genannt",
  related.no_values = "keine einzelnen Werte",
  related.one_answer = "nur eine Antwort",
  related.many_answers = function(answers) {
    sprintf(paste("%s verschiedene Antworten: fassen Sie sie zusammen, oder",
                  "teilen Sie eine Zahl in Klassen ein"), format_count(answers))
  },
  related.copies = function(question, other) {
    sprintf("%s und %s bestimmen einander fast ganz.", quoted(question),
            quoted(other))
  },
  related.says = function(question, other) {
    sprintf("%s bestimmt %s fast ganz.", quoted(question), quoted(other))
  },
  related.apart = "Gesondert, da die eine Frage fast die andere sagt:",
  related.left_out = "Ausgelassen:",
  related.said = function(to, pairs, expected, tests, significant, alpha) {
    sprintf(paste(paste("%s, das st\u00e4rkste zuerst. Von %s %s w\u00e4ren",
                        "auf dem Niveau %s durch Zufall etwa %s signifikant;",
                        "nach"),
                  "Korrektur \u00fcber alle (Benjamini-Hochberg) %s %s."),
            if (is.null(to))
              sprintf("%s %s von Fragen", format_count(pairs),
                      plural(pairs, "Paar", "Paare")) else
              sprintf("%s %s gegen %s", format_count(pairs),
                      plural(pairs, "Frage", "Fragen"), quoted(to)),
            format_count(tests), plural(tests, "Test", "Tests"),
            format_alpha(alpha),
            if (expected < 10) format_number(expected, 2L - (expected >= 1)) else
              format_count(expected), plural(significant, "ist es", "sind es"),
            if (significant) format_count(significant) else "keiner")
  },
  related.sure = "nach Korrektur signifikant",
  related.unsure = "nicht signifikant",
  related.picture = function(to) {
    sprintf("Wie stark Fragen mit %s zusammenh\u00e4ngen", quoted(to))
  },
  related.axis = function(alpha) {
    sprintf("Cram\u00e9rs V, V korrigiert (|) und das %s-Intervall",
            confidence_words(alpha))
  },
  related.field = "Wie stark die Fragen zusammenh\u00e4ngen",
  related.field_key = paste(paste("Cram\u00e9rs V; Zahlen stehen, wo es nach",
                                  "Korrektur \u00fcber alle Paare"),
                            "signifikant ist"),
  related.picture_alt = function(best) {
    sprintf("Am st\u00e4rksten: %s.", paste(best, collapse = "; "))
  },
  cache.unreadable = function(file) {
    sprintf(paste("Der in \u201e%s\u201c aufbewahrte Tabellenband kann nicht",
                  "gelesen werden und wird neu erstellt."), file)
  },
  cache.unwritten = function(folder) {
    sprintf(paste("Der Tabellenband konnte in \u201e%s\u201c nicht f\u00fcr",
                  "das n\u00e4chste Mal aufbewahrt werden."), folder)
  },

  # ---- reading, looking, checking ----
  read_said = function(file, said) {
    sprintf("%s gelesen: %s.", file, paste(said, collapse = ", "))
  },
  read_draft = function(file) {
    sprintf(paste("%s ist ein Entwurf mit Vermutungen und wurde nicht",
                  "angewendet (\u00fcbernehmen oder entfernen Sie die",
                  "Vermutungen, oder nennen Sie die Datei als Codebuch)"), file)
  },
  read_weight = function(columns) {
    sprintf(paste("das Codebuch nennt %s als Gewicht: geben Sie es in",
                  "respondents() an"), paste(columns, collapse = ", "))
  },
  read_above_header = function(lines) {
    shown <- lines[nzchar(trimws(lines))]
    sprintf("%d %s \u00fcber den Spaltennamen ausgelassen%s", length(lines),
            plural(length(lines), "Zeile", "Zeilen"),
            if (length(shown)) sprintf(" (\u201e%s\u201c%s)", cut_short(shown[1L], 60L),
                                       if (length(shown) > 1L) ", ..." else "") else "")
  },
  read_blank_lines = function(n) {
    sprintf("%s leere %s \u00fcbergangen", format_count(n),
            plural(n, "Zeile", "Zeilen"))
  },
  read_separator.tab = "Tabulatoren zwischen den Zellen",
  read_separator.semicolon = "Semikolons zwischen den Zellen",
  read_separator.bar = "Striche zwischen den Zellen",
  read_decimal_commas = "Dezimalkommas",
  read_sheet = function(sheet, of) {
    sprintf("Blatt %s von %d", quoted(sheet), of)
  },
  read_numbers_as_text = function(n, column) {
    sprintf("%d als Text gespeicherte %s in %s", n,
            plural(n, "Zahl", "Zahlen"), quoted(column))
  },
  read_dates_as_text = function(column) {
    sprintf("Datumsangaben neben anderen Zellen in %s, als Text gelesen",
            quoted(column))
  },
  ids_not_counted = function(column, most) {
    sprintf(paste("Ob Kennungen mehrfach vorkommen, wurde nicht gepr\u00fcft: %s hat",
                  "mehr als %s Werte."), quoted(column), format_count(most))
  },
  no_time_limit = "Dieser Benutzer darf kein Zeitlimit setzen: Abfragen laufen ohne.",
  look_battery = function(columns, how) {
    sprintf("%s haben dieselben Antworten. Als eine Tabelle von Aussagen: %s",
            list_with_and(columns), how)
  },
  look_head = function(records, questions, weight) {
    sprintf("%s %s, %s %s%s", format_count(records),
            plural(records, "Datensatz", "Datens\u00e4tze"),
            format_count(questions), plural(questions, "Frage", "Fragen"),
            if (is.null(weight)) "" else sprintf(", gewichtet mit %s", weight))
  },
  look_missing = function(reason) sprintf("fehlend: %s", reason),
  look_of_all = "von allen",
  look_so_far = "bis hier",
  look_not_single = "keine einzelnen Werte, also nichts zu z\u00e4hlen",
  look_not_counted = "keine Antworten, die sich z\u00e4hlen lassen",
  look_different = function(n) {
    sprintf("%s %s", format_count(n),
            plural(n, "Wert", "verschiedene Werte"))
  },
  look_no_values = "keine Werte",
  look_number = function(five, different) {
    sprintf("kleinster %s; Quartile %s, %s, %s; gr\u00f6\u00dfter %s; %s verschiedene",
            five[1L], five[2L], five[3L], five[4L], five[5L],
            format_count(different))
  },
  look_type.answers = "Antworten",
  look_type.ordered = "geordnete Antworten",
  look_type.number = "Zahl",
  look_type.text = "Text",
  look_type.ticks = "Mehrfachnennung",
  look_column.answer = "Antwort",
  look_column.weighted = "Gewichtetes n",
  look_column.interval = "95 %-KI",
  look_list_line = function(what, missing) {
    sprintf("%s, %s fehlend", what, format_count(missing))
  },
  look_list_hint = paste("Eine einzelne Frage zeigt ihr Name (--question); --find sucht in Namen",
          "und Titeln."),
  verify_head = function(tables, holds) {
    sprintf("%s von %s ver\u00f6ffentlichten Tabellen %s.", format_count(holds),
            format_count(tables), plural(holds, "stimmt", "stimmen"))
  },
  verify_line = function(file, table, verdict, detail) {
    detail <- ifelse(nzchar(detail), paste0(": ", sub("[.]?$", ".", detail)), ".")
    sprintf("%s: %s: %s%s", file, table, verdict_de(verdict), detail)
  },
  verify_cell = function(down, across, n, percent, now_n, now_percent) {
    told <- function(n, percent) {
      ifelse(is.na(percent), format_count(n),
             sprintf("%s (%s)", percent_words(percent / 100), format_count(n)))
    }
    if (length(down))
      sprintf("%s in %s war %s, jetzt %s", down, across, told(n, percent),
              told(now_n, now_percent))
  },
  verify_test = function(was, now) sprintf("der Test war %s, jetzt %s", was, now),
  verify_differs = function(what) {
    if (!length(what)) return("")
    more <- length(what) - 5L
    paste0(paste(utils::head(what, 5L), collapse = "; "),
           if (more > 0L) sprintf("; und %d weitere", more) else "", ".")
  },
  verify_gone = function(lines, texts) {
    paste0(paste(sprintf("%s bei %s", texts, quoted(lines)), collapse = "; "),
           ": so geschrieben, und nicht mehr da.")
  },
  latex_letters = function(letters) {
    sprintf(paste("Das LaTeX dieses Rechners hat keine Buchstaben f\u00fcr %s: jeder ist ein",
                  "leeres K\u00e4stchen. Installieren Sie xelatex oder lualatex mit ihren Schriften, oder",
                  "schreiben Sie .docx oder .html."),
            list_some(letters))
  },
  verify_many = function(file, tables, verdict) {
    sprintf("%s: %s Tabellen: %s.", file, format_count(tables), verdict_de(verdict))
  },
  verify_print = function(line, column, was, now) {
    told <- function(text) ifelse(is.na(text) | !nzchar(text), "nicht da", text)
    if (length(line))
      sprintf("%s%s war %s, jetzt %s", quoted(line),
              ifelse(nzchar(column), sprintf(" in %s", quoted(column)), ""), told(was), told(now))
  },
  verify_said = function(was, now) {
    only_in <- function(one, other) quoted(paste(one[!one %in% other], collapse = " "))
    sprintf("die Zeilen darunter waren %s, jetzt %s", only_in(was, now), only_in(now, was))
  },
  verify_seeded = paste("die Anzahlen sind mit einem Startwert gerundet, den nur kennt, wer sie",
                        "gemacht hat"),
  verify_no_sheet = paste("diese Tabelle gibt es jetzt nicht; Ver\u00e4nderungen brauchen auch die",
                          "Datens\u00e4tze der Welle davor"),
  verify_without = function(files) {
    sprintf("Ohne Tabellen als Daten, also nichts zu pr\u00fcfen: %s.", list_some(files))
  },
  recheck_nothing = "Keine Summe und keine Behauptung zu pr\u00fcfen.",
  recheck_verdict = function(held, of) {
    if (held == of && of == 1L)
      return("Die Anzahlen best\u00e4tigen die eine Behauptung oder Summe.")
    if (held == of)
      return(sprintf("Die Anzahlen best\u00e4tigen alle %d Behauptungen und Summen.",
                     of))
    sprintf("Die Anzahlen best\u00e4tigen %d von %d Behauptungen und Summen nicht.",
            of - held, of)
  },
  recheck_line = function(holds, claim, claimed, worked_out, remark) {
    sprintf("%s%s: behauptet %s, berechnet %s%s",
            ifelse(holds, "stimmt\u00a0\u00a0", "ANDERS\u00a0\u00a0"), claim,
            claimed, worked_out,
            ifelse(is.na(remark), "", sprintf(" (%s)", remark)))
  },
  line_named = function(side, name) {
    sprintf("%s %s", c(row = "Zeile", column = "Spalte")[[side]], quoted(name))
  },
  recheck_total = function(line, of) sprintf("%s von %s", line, of),
  recheck_df = "Freiheitsgrade",
  recheck_statistic = "Pr\u00fcfgr\u00f6\u00dfe",
  recheck_it_is = function(test) sprintf("es ist: %s", test),
  recheck_percentages.column = "Spaltenprozente",
  recheck_percentages.row = "Zeilenprozente",
  recheck_percentages.total = "Gesamtprozente",
  recheck_percentage.column = "Spaltenprozent",
  recheck_percentage.row = "Zeilenprozent",
  recheck_percentage.total = "Gesamtprozent",
  recheck_cell = function(percentage, down, across) {
    sprintf("%s, %s nach %s", percentage, down, across)
  },
  recheck_no_percentages = "die Tabelle hat keine Prozente neben den Anzahlen",
  recheck_cells = function(n) sprintf("%d %s", n, plural(n, "Zelle", "Zellen")),
  recheck_all_agree = "alle stimmen",
  recheck_they_are = function(percentages) sprintf("es sind %s", percentages),
  counts_impossible = function(columns) {
    sprintf(paste("Keine ganzen Anzahlen ergeben diese Prozente: der Druck ist",
                  "widerspr\u00fcchlich in %s."), columns)
  },
  counts_tables = function(tables, one, columns) {
    sprintf("%s %s von Anzahlen %s diese Prozente ergeben haben (%s).", tables,
            if (one) "Tabelle" else "Tabellen",
            if (one) "kann" else "k\u00f6nnen", columns)
  },
  counts_extremes = function(statistic, v, p) {
    sprintf("Chi-Quadrat %s, Cram\u00e9rs V %s, p %s.", statistic, v, p)
  },
  counts_searched = paste("Zu viele, um sie alle durchzugehen: die Grenzen stammen aus einer Suche",
          "und k\u00f6nnen etwas enger sein als die wahren."),
  codebook_weight = "ein Stichprobengewicht",
  codebook_guess_missing = function(values) {
    sprintf("Vermutung: %s hei\u00dft vielleicht fehlend", values)
  },
  codebook_guess_order = function(order) sprintf("Vermutung: geordnet als %s", order),
  style_head = function(name) sprintf("Hausstil (%s)", name),

  # ---- statements with the same answers ----
  base.statements = function(question, ticks) {
    "Zeilenprozente: derer, die die jeweilige Aussage beantwortet haben"
  },
  null_statements = function(down, across, within) {
    sprintf("dass alle Aussagen zu %s gleich beantwortet werden%s", down, within)
  },
  key_statements = function(rule) {
    sprintf(paste("+ mehr, \u2212 weniger als erwartet, wenn alle Aussagen gleich",
                  "beantwortet w\u00fcrden (%s)"), rule)
  },
  key_statements_none = function(rule) {
    sprintf(paste("Keine Zelle weicht von dem ab, was zu erwarten w\u00e4re, wenn alle",
                  "Aussagen gleich beantwortet w\u00fcrden (%s)"), rule)
  },
  who_statements = function(down, across, within, n, design, left) {
    sprintf("Die Aussagen zu %s%s haben %s %s beantwortet%s%s.", quoted(down), within,
            format_count(n), plural(n, "Person", "Personen"), design, left)
  },
  statements_differ = function(down, across, within, level) {
    sprintf("Die Aussagen von %s werden verschieden beantwortet%s%s", quoted(down), within,
            level)
  },
  statements_alike = function(down, across, within, level) {
    sprintf("Die Aussagen von %s werden nicht signifikant verschieden beantwortet%s%s",
            quoted(down), within, level)
  },

  # ---- beside a test ----
  test_why = function(name, text) sprintf("%s: weil %s", name, text),
  test_note = function(name, text) sprintf("%s: %s", name, text),

  # ---- corrected for chance ----
  corrected_for_chance = function(value) sprintf("um den Zufall korrigiert %s", value),
  explains.across = "Kopf erkl\u00e4rt Rand",
  explains.down = "Rand erkl\u00e4rt Kopf",

  # ---- few clusters ----
  clusters_of_group = function(answers, clusters) {
    sprintf(paste("Wenige Klumpen, daher breite Intervalle auf schmaler",
                  "Grundlage: %s."), paste(sprintf("%s (%d)", answers, clusters),
                                           collapse = ", "))
  },
  brief.clusters_of_group = function(answers, clusters) {
    sprintf("Wenige Klumpen: %s.",
            paste(sprintf("%s (%d)", answers, clusters), collapse = ", "))
  },
  means_one_cluster = "eine Spalte lebt in einem einzigen Klumpen, der nichts \u00fcber andere sagt"
)

scale_meaning_de <- function(name, x, d, a) {
  sprintf(paste("%s reicht von 0 (%s und %s h\u00e4ngen nicht zusammen) bis 1",
                "(so stark wie m\u00f6glich); hier ist der Wert %s."), name,
          quoted(d), quoted(a), format_strength(x))
}

errors_meaning_de <- function(x, knowing, guessing) {
  sprintf("%s zu kennen verringert die Fehler beim Erraten von %s um %s.",
          quoted(knowing), quoted(guessing), whole(x))
}

proportional_meaning_de <- function(x, knowing, guessing) {
  sprintf("%s nach seinen Anteilen zu erraten geht um %s seltener fehl, wenn %s bekannt ist.",
          quoted(guessing), whole(x), quoted(knowing))
}

pairs_differing_de <- function(d, a) {
  sprintf("den Paaren, die sich in %s und in %s unterscheiden", quoted(d),
          quoted(a))
}

order_meaning_de <- function(x, pairs) {
  if (x == 0)
    return(sprintf("Unter %s kommt dieselbe Reihenfolge so oft vor wie die umgekehrte.",
                   pairs))
  ways <- if (x > 0) c("dieselbe", "der umgekehrten") else
    c("die umgekehrte", "derselben")
  sprintf("Unter %s \u00fcberwiegt %s Reihenfolge gegen\u00fcber %s um %s der Paare.",
          pairs, ways[1L], ways[2L], whole(abs(x)))
}

slope_meaning_de <- function(what, x, d, a) {
  if (x == 0)
    return(sprintf("Die %s von %s und %s steigen und fallen nicht miteinander.",
                   what, quoted(d), quoted(a)))
  sprintf(paste("Die %s von %s und %s %s: %s auf einer Skala von -1 bis 1,",
                "und die eine erkl\u00e4rt %s der Varianz der anderen."), what,
          quoted(d), quoted(a),
          if (x > 0) "steigen miteinander" else "laufen gegeneinander",
          format_strength(x), whole(x^2))
}

verdict_de <- function(verdict) {
  called <- c("the same" = "dieselbe",
              "the same figures from other records" = "dieselben Zahlen, andere Datens\u00e4tze",
              "other figures" = "andere Zahlen", "edited by hand" = "von Hand ge\u00e4ndert",
              "not to be made again" = "nicht noch einmal herzustellen")
  unname(called[verdict])
}
