# The German sentences of errors.

errors_de <- list(
  no_tables_made = "Es gibt keine Tabellen zu erstellen.",
  see_chapters_name_questions = "Die Kapitel m\u00fcssen Fragen nennen.",
  plan_no_chapter_table_question =
    "Der Tabellenplan hat kein Kapitel, keine Tabelle und keine Frage \u201e%s\u201c.",
  book_no_table_by = "Der Tabellenband hat keine Tabelle von %s nach %s.",
  book_no_table_of = "Der Tabellenband hat keine Tabelle von %s.",
  table_could_not_made = "Tabelle %d (%s) konnte nicht erstellt werden.",
  cache_true_false_one_folder = "`cache` muss TRUE, FALSE oder ein Ordner sein, nicht %s.",
  file_one_path_not = "`file` muss ein Pfad sein, nicht %s.",
  no_plan = "Es gibt keinen Tabellenplan \u201e%s\u201c.",
  plan_cannot_read = "Der Tabellenplan \u201e%s\u201c kann nicht gelesen werden.",
  plan_is_empty = "Er ist leer.",
  fairlattice_plan_file_out_plan =
    "'fairlattice plan DATEI --out plan.yml' schreibt einen, mit dem sich anfangen l\u00e4sst.",
  plan_holds_no_keys = "Er enth\u00e4lt keine Schl\u00fcssel.",
  write_like_records_veyra_csv = "Sie werden so geschrieben: \u201erecords: veyra.csv\u201c.",
  must_be_list = "eine Liste",
  must_be_filled_list = "eine Liste mit mindestens einem Eintrag",
  plan_has_faults = "%s hat %s.",
  further_faults = "Und weiter hinten noch %s.",
  folder_cannot_made = "Der Ordner \u201e%s\u201c kann nicht angelegt werden.",
  name_another = "Nennen Sie einen anderen.",
  chapters_list_named_titles_chapters =
    "`chapters` muss eine Liste sein, benannt nach den Titeln der Kapitel.",
  write_list_home_c_heating = "Schreiben Sie list(\"Zu Hause\" = c(\"heating\", \"internet\")).",
  plan_names_no_file_records = "Der Tabellenplan nennt keine Datei mit Datens\u00e4tzen.",
  database_needs_table_table_whose =
    paste0("\u201edatabase\u201c braucht \u201etable\u201c, deren Zeilen die Datens\u00e4tze ",
           "sind, oder \u201equery\u201c, ein SELECT, das sie gibt; eines von beiden."),
  cannot_set_against_other_questions =
    "\u201e%s\u201c l\u00e4sst sich keiner anderen Frage gegen\u00fcberstellen.",
  no_two_questions_can_set = "Es gibt keine zwei Fragen, die sich gegen\u00fcberstellen lassen.",
  nothing_draw_no_pair_measure =
    "Es gibt nichts zu zeichnen: f\u00fcr kein Fragenpaar liegt ein Ma\u00df vor.",
  book_no_table_may_listed =
    "Der Tabellenband hat keine Tabelle, die als Daten ausgegeben werden darf.",
  sign_parts_ticks_missing = "%s: Das Zeichen, das die Nennungen trennt, fehlt.",
  written_like_not = "%s wird so geschrieben: \u201e%s\u201c, nicht \u201e%s\u201c.",
  not_list_numbers = "%s: \u201e%s\u201c ist keine Liste von Zahlen.",
  written_like_new_old_old =
    "%s: \u201e%s\u201c muss so geschrieben werden: \u201eNeu: alt, alt; Neuer: \u00e4lter\u201c.",
  before_path_records_list_question =
    "`before` muss ein Pfad, Datens\u00e4tze oder eine Liste aus question, then und now sein.",
  write_list_question_year_then =
    "Schreiben Sie list(question = \"year\", then = \"2024\", now = \"2026\").",
  does_not_end_format_can =
    "\u201e%s\u201c endet nicht auf ein Format, das geschrieben werden kann.",
  folder_end = "M\u00f6glich sind: %s; oder ein Ordner mit / am Ende.",
  file_holds_one_figure_book =
    "Eine .%s-Datei enth\u00e4lt eine Abbildung, ein Tabellenband viele.",
  possible_are = "M\u00f6glich sind: %s.",
  not_for_such_file = "\u201e%s\u201c gibt es nicht f\u00fcr eine .%s-Datei.",
  outside_gives_away = "Antworten neben der Basis w\u00fcrden gesch\u00fctzte Zahlen verraten.",
  outside_of_one_answer =
    "Antworten neben der Basis gibt es bei Fragen mit einer Antwort, nicht bei Mehrfachfragen.",
  outside_no_such_reason = "\"%s\" ist hier kein Grund f\u00fcr eine fehlende Antwort.",
  outside_none_there = "Diese Frage hat keinen.",
  second_alpha_of_letters = "Ein zweites Niveau gilt f\u00fcr Buchstaben, klein oder gro\u00df.",
  second_alpha_marks = "Dazu `marks` \"letters\" verlangen.",
  second_alpha_stricter = "Das zweite Niveau muss unter dem ersten liegen: %s tut es nicht (%s).",
  number_missing_of_values = "Einer Zahl fehlen k\u00f6nnen nur Werte, die sie hat.",
  labels_named_by_codes = "Beschriftungen sind Texte, jede nach ihrem Code benannt, keine zwei gleich.",
  write_labels_codes = "Etwa c(\"1\" = \"Ja\", \"2\" = \"Nein\").",
  other_sheets_are = "Die anderen Bl\u00e4tter: %s. Eines davon nennen (`sheet`, --sheet).",
  verify_paths_are_texts = "`path` m\u00fcssen Dateien oder Ordner sein, nicht %s.",
  recipe_not_known = "Wie sie entstand, steht nicht in der Datei.",
  recipe_not_in_a_plan = "Mit den Datens\u00e4tzen geschah etwas, das kein Plan sagen kann: %s.",
  verify_against_which_records =
    "--records nennt die Datens\u00e4tze, an denen die Tabellen gemessen werden.",
  only_nothing_left = "Mit nur %2$s bliebe von \"%1$s\" nichts.",
  only_what_there_is = "Vorhanden sind %s.",
  sort_by_what = "Sortiert wird nach %s, einer Antwort oder Gruppe, nicht nach \"%s\".",
  no_wave_of_that_name =
    "Verglichen wird mit \"previous\", \"first\" oder einer von %s; \"%s\" ist keine davon.",
  called_different_names_of_waves =
    "`called` m\u00fcssen %s verschiedene Namen sein, in der Reihenfolge der Wellen und diese zuletzt.",
  before_lacks_key_answer =
    paste0("In \u201ebefore\u201c fehlt der Schl\u00fcssel \u201e%s\u201c: die Antwort von ",
           "\u201e%s\u201c f\u00fcr %s."),
  question_has_no_answer = "\u201e%s\u201c hat keine Antwort \u201e%s\u201c.",
  comparing_waves = "Der Vergleich von Wellen",
  waves_replicate_weights_in_all =
    "Wellen werden nur dann mit Replikationsgewichten verglichen, wenn alle welche haben.",
  wave_before_no_column = "Die vorige Welle hat keine Spalte \u201e%s\u201c.",
  check_writes_nothing_no_out = "--check schreibt nichts und hat daher kein --out.",
  out_end_yml_plan_yaml = "--out muss auf .yml enden: Ein Tabellenplan ist eine YAML-Datei.",
  file_already = "Die Datei \u201e%s\u201c gibt es schon.",
  name_another_plan_somebody_worked =
    paste0("Nennen Sie eine andere: Ein Tabellenplan, an dem jemand gearbeitet hat, wird ",
           "nicht \u00fcberschrieben."),
  before_name_two_answers_year =
    paste0("--before muss mindestens zwei Antworten von \u201e%s\u201c nennen, etwa ",
           "\u201eyear=2024,2026\u201c, nicht \u201e%s\u201c."),
  down_missing_names_question = "--down fehlt: Es nennt eine Frage.",
  run_fairlattice_look_file_see = "'fairlattice look DATEI' zeigt die Fragen.",
  overlap_columns_one_table_needs =
    "--overlap betrifft die Spalten einer Tabelle: Es braucht --together.",
  single_cluster_strata_one_cluster =
    paste0("--single-cluster betrifft Schichten mit nur einem Klumpen: Es braucht --stratum ",
           "oder --cluster."),
  base_says_who_among_keeps = "--base sagt, wen --among beh\u00e4lt, und braucht daher --among.",
  shares_one_question_down_without = "--shares ist f\u00fcr eine Frage --down, ohne --across.",
  alpha_between_0_1_not = "--alpha muss zwischen 0 und 1 liegen, nicht %s.",
  regroup_sparse_one_table_time =
    paste0("--regroup-sparse ist f\u00fcr eine Tabelle auf einmal, ohne --each und ohne ",
           "Mehrfachnennungen."),
  needs_out_file = "%s braucht --out mit einer %s-Datei.",
  no_table_asks = "--%s: Keine Tabelle fragt nach \u201e%s\u201c.",
  name_leave_option_out = "Nennen Sie es mit %s, oder lassen Sie die Option weg.",
  shares_not_number = "--shares: \u201e%s\u201c ist keine Zahl.",
  decimals_not_number = "--decimals: \u201e%s\u201c ist keine Zahl.",
  one_per_needs_id_know = "--one-per braucht --id, um zu wissen, wer wer ist.",
  draft_codebook_needs_records_file =
    "--draft-codebook braucht die Datens\u00e4tze einer DATEI im Speicher.",
  table_empty = "Die Tabelle ist leer.",
  table_holds_zero_byte_no = "Die Tabelle enth\u00e4lt ein Nullbyte und ist daher kein Text.",
  line_table_not_utf_8 = "Zeile %d der Tabelle ist kein UTF-8-Text.",
  save_utf_8 = "Speichern Sie sie als UTF-8.",
  bases_not_number = "--bases: \u201e%s\u201c ist keine Zahl.",
  not_percentage = "\u201e%s\u201c ist kein Prozentwert.",
  name_another_out = "Nennen Sie mit --out einen anderen.",
  no_completion = "F\u00fcr \u201e%s\u201c gibt es keine Vervollst\u00e4ndigung.",
  shells_bash_zsh = "Shells: bash, zsh.",
  bash_source_fairlattice_completion_bash = "In bash: source <(fairlattice completion bash)",
  desk_needs_file_goes_reading = "Der Tabellentisch braucht eine Datei: Sonst liest er nichts.",
  no_command = "Es gibt keinen Befehl \u201e%s\u201c.",
  file_missing = "Die DATEI fehlt.",
  usage_fairlattice = "Aufruf: fairlattice %s",
  one_word_too_many = "\u201e%s\u201c ist ein Wort zu viel.",
  database_records_database_not_file =
    "Mit --database stehen die Datens\u00e4tze in der Datenbank, nicht in einer DATEI.",
  no_option = "Es gibt keine Option \u201e%s\u201c.",
  needs_value_after = "Auf %s muss ein Wert folgen.",
  takes_no_value = "%s nimmt keinen Wert an.",
  option_must_be = "%s muss %s sein, nicht \u201e%s\u201c.",
  option_must_be_number = "%s muss eine Zahl sein, nicht \u201e%s\u201c.",
  database_needs_database = "--%s betrifft eine Datenbank: Es braucht --database.",
  database_needs_table_table_whose_rows =
    paste0("--database braucht --table, deren Zeilen die Datens\u00e4tze sind, oder --query, ",
           "ein SELECT, das sie gibt; eines von beiden."),
  chunks_files_not_database = "--in-chunks ist f\u00fcr Dateien, nicht f\u00fcr --database.",
  survey_path_data_frame_survey =
    "`survey` muss ein Pfad, ein Data Frame oder eine Umfrage sein, nicht %s.",
  port_whole_number_1024_65535 = "`port` muss eine ganze Zahl von 1024 bis 65535 sein, nicht %s.",
  port_cannot_used = "Port %d kann nicht verwendet werden.",
  name_another_none_free_one = "Nennen Sie einen anderen, oder keinen f\u00fcr einen freien.",
  what_page_sent_cannot_read = "Was die Seite gesendet hat, kann nicht gelesen werden.",
  window_no_sound_name = "Das Fenster hat keinen g\u00fcltigen Namen.",
  window_work_not_here_any = "Die Arbeit dieses Fensters ist nicht mehr da.",
  no_table_publish = "Es gibt keine Tabelle zu ver\u00f6ffentlichen.",
  no_table_draw = "Es gibt keine Tabelle zu zeichnen.",
  say_first_column_tells_who = "Sagen Sie zuerst, welche Spalte die befragte Person bezeichnet.",
  no_table_yet_put_into = "Es gibt noch keine Tabelle f\u00fcr die Ablage.",
  only_table_one_question_down =
    "Nur eine Tabelle mit einer Frage in den Zeilen und einer in den Spalten kann gedreht werden.",
  key_must_be_number = "\u201e%s\u201c muss eine Zahl sein, nicht \u201e%s\u201c.",
  key_must_be = "\u201e%s\u201c muss %s sein.",
  is_not_a_number = "\u201e%s\u201c ist keine Zahl.",
  must_be_one_text = "`%s` muss ein Text sein.",
  no_such_place_list = "Diese Stelle gibt es in der Liste nicht.",
  replicates_table_no_bootstrap_samples =
    paste0("Die Replikationen dieser Tabelle sind keine Bootstrap-Stichproben und haben ",
           "daher keine Perzentile."),
  use_make_replicates_survey_bootstrap_survey =
    "Verwenden Sie make_replicates(survey, \"bootstrap\") oder die Umfrage ohne Replikationen.",
  respondents_too_many_draw_again =
    paste0("%s Befragte sind zu viele, um neu zu ziehen; die \u00fcblichen Intervalle sind ",
           "dort ebenso gut."),
  table_weighted_respondents_without_clusters =
    paste0("Eine Tabelle gewichteter Befragter ohne Klumpen enth\u00e4lt keine einzelnen ",
           "Gewichte und kann daher nicht neu gezogen werden."),
  make_bootstrap_replicates_first_make_replicates =
    "Erzeugen Sie zuerst Bootstrap-Replikationen: make_replicates(survey, \"bootstrap\").",
  cannot_turned_round = "Sie kann nicht gedreht werden",
  question_name_number = "`question` muss eine Zahl nennen.",
  into_one_name = "`into` muss ein Name sein.",
  bands_labels = "Es gibt %d Klassen (%s) und %d Beschriftungen.",
  give_one_breaks_n_width = "Geben Sie eines von `breaks`, `n` und `width` an.",
  breaks_finite_numbers = "`breaks` m\u00fcssen endliche Zahlen sein.",
  labels_different_texts = "`labels` m\u00fcssen verschiedene Texte sein.",
  not_number_cannot_cut_into =
    "\u201e%s\u201c ist keine Zahl und kann daher nicht in Klassen eingeteilt werden.",
  combine_answers_regroup = "Fassen Sie Antworten mit regroup() zusammen.",
  infinite_values_record = "\u201e%s\u201c hat unendliche Werte (Datensatz %d).",
  make_missing_first = "Setzen Sie sie zuerst auf fehlend.",
  no_values = "\u201e%s\u201c hat keine Werte.",
  width_makes_more_1_000 = "Eine Breite von %s ergibt mehr als 1.000 Klassen.",
  breaks_increasing_numbers = "`breaks` m\u00fcssen aufsteigende Zahlen sein.",
  breaks_are = "Sie sind %s.",
  n_number_least_2_not = "`n` muss eine Zahl von mindestens 2 sein, nicht %s.",
  nobody_weight_value = "Niemand mit einem Gewicht hat einen Wert.",
  does_not_columns_first_part =
    paste0("\u201e%s\u201c hat nicht die Spalten des ersten Teils: \u201e%s\u201c steht nur ",
           "in einem von beiden."),
  holds_zero_byte_no_json = "\u201e%s\u201c enth\u00e4lt ein Nullbyte und ist daher kein JSON.",
  get_again_where_came = "Holen Sie die Datei noch einmal von ihrer Quelle.",
  key_first_thousand_records_do =
    paste0("\u201e%s\u201c ist ein Schl\u00fcssel von \u201e%s\u201c, den die ersten ",
           "tausend Datens\u00e4tze nicht haben."),
  file_has_no_records = "\u201e%s\u201c hat keine Datens\u00e4tze.",
  folders_say_different_keys =
    paste0("Die Ordner unterscheiden sich in dem, was ihre Namen sagen: der von \u201e%s\u201c ",
           "%s, der von \u201e%s\u201c nicht dasselbe."),
  key_is_column_too =
    "\u201e%s\u201c sagen die Ordner, und es ist auch eine Spalte von \u201e%s\u201c.",
  key_is_no_number_of_records =
    "\u201e%s\u201c sagen die Ordner: Es kann weder Gewicht noch Anzahl sein.",
  folder_no_files_read_chunks =
    "Der Ordner \u201e%s\u201c hat keine Dateien, die st\u00fcckweise gelesen werden.",
  kinds_are = "Arten: %s.",
  kind_not_read_chunks =
    "\u201e%s\u201c ist von einer Art, die nicht st\u00fcckweise gelesen wird.",
  kinds_others_read_read_records = "Arten: %s. Andere werden mit read_records() gelesen.",
  parts_survey_files_one_kind = "Die Teile einer Umfrage m\u00fcssen Dateien einer Art sein.",
  changed_gone_since_first_read =
    "\u201e%s\u201c wurde seit dem ersten Lesen ge\u00e4ndert oder ist nicht mehr da.",
  call_records_in_chunks_again = "Rufen Sie records_in_chunks() noch einmal auf.",
  file_has_two_columns_named = "\u201e%s\u201c hat zwei Spalten namens \u201e%s\u201c.",
  utf_16_is_not_read_in_chunks =
    "\u201e%s\u201c ist UTF-16, und st\u00fcckweise wird nur UTF-8 gelesen.",
  one_column_only = "\u201e%s\u201c hat nur eine Spalte.",
  read_read_records = "Lesen Sie die Datei mit read_records().",
  another_separator_decimal_mark =
    "\u201e%s\u201c hat ein anderes Trenn- oder Dezimalzeichen als \u201e%s\u201c.",
  header_no_records = "\u201e%s\u201c hat eine Kopfzeile und keine Datens\u00e4tze.",
  files_differ_in_columns = "\u201e%s\u201c und \u201e%s\u201c haben nicht dieselben Spalten%s.",
  file_may_not_read = "Die Datei \u201e%s\u201c darf nicht gelesen werden.",
  column_holds_what_not_utf =
    "Die Spalte \u201e%s\u201c enth\u00e4lt etwas, das kein UTF-8-Text ist%s.",
  may_latin_1_save_file = "Vielleicht ist es Latin-1: Speichern Sie die Datei als UTF-8.",
  no_codebook = "Es gibt kein Codebuch \u201e%s\u201c.",
  codebook_not = "Das Codebuch \u201e%s\u201c ist kein g\u00fcltiges %s.",
  codebook_is_not_utf_8 = "Es ist kein UTF-8-Text.",
  larger_20_mb = "Es ist gr\u00f6\u00dfer als 20 MB.",
  aliases_name_not_read_write =
    paste0("Aliase (*name) werden nicht gelesen: Schreiben Sie den Teil aus, oder setzen ",
           "Sie Text, der mit * beginnt, in Anf\u00fchrungszeichen."),
  tags_name_not_read_put =
    paste0("Tags (!name) werden nicht gelesen: Setzen Sie Text, der mit ! beginnt, in ",
           "Anf\u00fchrungszeichen."),
  codebook_no_fields = "Das Codebuch \u201e%s\u201c hat keine Felder.",
  table_schema_list_named_fields = "Ein Table Schema hat eine Liste namens \u201efields\u201c.",
  codebook_field_twice = "Das Codebuch hat das Feld \u201e%s\u201c zweimal.",
  field_codebook_not_object_name = "Feld %d des Codebuchs ist kein Objekt mit einem Namen.",
  field_codebook_no_name = "Feld %d des Codebuchs hat keinen Namen.",
  codebook_field_not_one_text =
    "Im Codebuch ist \u201e%s\u201c des Felds \u201e%s\u201c nicht ein Text.",
  codebook_field_list_values_objects =
    paste0("Im Codebuch muss \u201e%s\u201c des Felds \u201e%s\u201c eine Liste von Werten ",
           "oder von Objekten mit Wert und Beschriftung sein."),
  codebook_answer_field_no_label =
    "Im Codebuch hat eine Antwort des Felds \u201e%s\u201c keine Beschriftung.",
  codebook_value_twice = "Im Codebuch hat das Feld \u201e%s\u201c zweimal \u201e%s\u201c.",
  codebook_value_field_answer_missing =
    paste0("Im Codebuch ist der Wert \u201e%s\u201c des Felds \u201e%s\u201c zugleich ",
           "Antwort und fehlend."),
  codebook_field_label_answer_missing =
    paste0("Im Codebuch ist \u201e%s\u201c des Felds \u201e%s\u201c die Beschriftung einer ",
           "Antwort und eines fehlenden Werts."),
  column_codebook_does_not_know =
    "Spalte \u201e%s\u201c: Das Codebuch kennt den Wert \u201e%s\u201c nicht (%s%s).",
  other_column_not_known_either =
    c("%s weiterer Wert dieser Spalte ist ihm unbekannt.",
      "%s weitere Werte dieser Spalte sind ihm unbekannt."),
  correct_data_codebook_ask_unknown =
    paste0("Berichtigen Sie die Daten oder das Codebuch, oder w\u00e4hlen Sie unknown = ",
           "\"missing\", um solche Datens\u00e4tze mit diesem Grund auszuschlie\u00dfen."),
  no_file = "Es gibt keine Datei \u201e%s\u201c.",
  connection_cannot_read = "Die Verbindung \u201e%s\u201c kann nicht gelesen werden.",
  names_no_database = "\u201e%s\u201c bezeichnet keine Datenbank.",
  write_sqlite_file_duckdb_file =
    paste0("Schreiben Sie sqlite:DATEI oder duckdb:DATEI, oder den Pfad einer YAML-Datei, ",
           "die die Verbindung beschreibt."),
  connection_lacks_key_database =
    "Der Verbindung \u201e%s\u201c fehlt der Schl\u00fcssel \u201edatabase\u201c.",
  no_database_here = "Hier gibt es keine Datenbank \u201e%s\u201c.",
  connection_file_holds_no_password =
    paste0("Eine Verbindungsdatei enth\u00e4lt kein Passwort, diese hat aber den ",
           "Schl\u00fcssel \u201e%s\u201c."),
  write_password_from_name_put_password =
    paste0("Schreiben Sie password_from: NAME, und legen Sie das Passwort in die ",
           "Umgebungsvariable dieses Namens."),
  no_key_connection = "In einer Verbindung gibt es keinen Schl\u00fcssel \u201e%s\u201c.",
  connection_one_value = "In der Verbindung muss \u201e%s\u201c ein einzelner Wert sein.",
  database_cannot_reached = "Die Datenbank (%s) ist nicht erreichbar.",
  see_runs_host_name_user =
    "Pr\u00fcfen Sie, ob sie l\u00e4uft und ob Rechner, Name und Benutzer stimmen.",
  environment_no_variable_hold_password =
    "Die Umgebung hat keine Variable \u201e%s\u201c, die das Passwort enthalten soll.",
  connection_lacks_key_file = "Der Verbindung fehlt der Schl\u00fcssel \u201efile\u201c.",
  no_database = "Es gibt keine Datenbank \u201e%s\u201c.",
  count_names_column_data_frame = "`count` nennt die Spalte eines Data Frames, und `x` ist keiner.",
  down_across_titles = "`down` und `across` m\u00fcssen Titel sein.",
  number_is_no_count = "Zeile \u201e%s\u201c, Spalte \u201e%s\u201c: %s ist keine Anzahl%s.",
  counts_whole_numbers_respondents_weighted =
    paste0("Anzahlen sind ganze Zahlen von Befragten. Gewichtete Anzahlen lassen sich nicht ",
           "testen: Sie sagen nicht, f\u00fcr wie viele Personen sie stehen."),
  every_count_0_nobody_table = "Jede Anzahl ist 0: In der Tabelle ist niemand.",
  x_table_counts_not = "`x` muss eine Tabelle von Anzahlen sein, nicht %s.",
  give_matrix_data_frame_pasted =
    "Geben Sie eine Matrix, einen Data Frame oder eingef\u00fcgten Text an.",
  table_no_cells = "Die Tabelle hat keine Zellen.",
  count_missing_na_write_0 = "Eine Anzahl fehlt (NA): Schreiben Sie 0, wo niemand ist.",
  column_table_no_name = "Eine Spalte der Tabelle hat keinen Namen.",
  column_table_no_counts =
    "Spalte \u201e%s\u201c der Tabelle ist vom Typ %s und enth\u00e4lt keine Anzahlen.",
  table_counts_needs_column_names =
    "Eine Tabelle von Anzahlen braucht eine Spalte mit Namen und mindestens eine mit Anzahlen.",
  down_across_name_columns = "`down` und `across` m\u00fcssen Spalten nennen.",
  columns_may_hold_counts = "%d Spalten k\u00f6nnten die Anzahlen enthalten.",
  name_one_count = "Nennen Sie eine mit `count`.",
  line_table_lacks_count_answer = "In Zeile %d der Tabelle fehlt die Anzahl oder eine Antwort.",
  table_fewer_two_lines_line =
    paste0("Die Tabelle hat weniger als zwei Zeilen: N\u00f6tig sind eine Zeile mit ",
           "Spaltennamen und weitere Zeilen."),
  line_table_cells_but_first =
    "Zeile %d der Tabelle hat %d Zellen, die erste aber %d: \u201e%s\u201c.",
  put_tab_least_two_spaces =
    paste0("Setzen Sie zwischen Zellen einen Tabulator oder mindestens zwei Leerzeichen, ",
           "und 0 oder -, wo niemand ist."),
  line_1_table_one_cell = "Zeile 1 der Tabelle ist eine einzige Zelle: \u201e%s\u201c.",
  put_tab_semicolon_least_two =
    "Setzen Sie zwischen Zellen einen Tabulator, ein Semikolon oder mindestens zwei Leerzeichen.",
  first_line_table_only_numbers =
    paste0("Die erste Zeile der Tabelle hat nach \u201e%s\u201c nur Zahlen; das k\u00f6nnen ",
           "Namen oder Anzahlen sein."),
  put_line_names_columns_first =
    paste0("Stellen Sie eine Zeile mit den Spaltennamen voran; sind diese Zahlen, lassen ",
           "Sie ihre erste Zelle leer."),
  line_table_quotation_mark_not =
    paste0("Zeile %d der Tabelle hat ein Anf\u00fchrungszeichen, das nicht geschlossen ",
           "wird: \u201e%s\u201c."),
  close_take_away = "Schlie\u00dfen oder entfernen Sie es.",
  text_is_no_count =
    "Zeile \u201e%s\u201c, Spalte \u201e%s\u201c: \u201e%s\u201c ist keine Anzahl.",
  cell_may_whole_number_such = "Eine Zelle darf eine ganze Zahl sein, etwa 1,234, oder 12 (34.5%).",
  two_sides_named = "Zwei %s hei\u00dfen \u201e%s\u201c.",
  no_total_but_others_add =
    paste0("%1$s ist keine Summe: Bei \u201e%3$s\u201c steht %2$s, die ",
           "\u00fcbrigen ergeben aber %4$s."),
  correct_remove_answer_say_totals =
    paste0("Berichtigen oder entfernen Sie sie; ist es eine Antwort, w\u00e4hlen Sie totals ",
           "= FALSE (--keep-totals). recheck() z\u00e4hlt alle abweichenden Werte auf."),
  con_open_connection = "`con` muss eine offene Verbindung sein.",
  open_one_dbi_dbconnect = "\u00d6ffnen Sie eine mit DBI::dbConnect().",
  table_or_query = "N\u00f6tig ist eine Tabelle oder eine Abfrage, nicht beides.",
  lazy_table_has_its_query =
    "Eine Tabelle von dplyr hat ihre Abfrage: ohne `table` und ohne `query`.",
  database_refused_query = "Die Datenbank konnte die Abfrage nicht beantworten.",
  send_query_by_itself =
    "Pr\u00fcfen Sie, ob die Verbindung offen ist und die Abfrage dort f\u00fcr sich l\u00e4uft.",
  query_one_text = "`query` muss ein SELECT als ein Text sein, nicht %s.",
  query_no_select = "Die Abfrage muss ein SELECT sein (oder WITH ... SELECT), nicht: %s",
  query_several_statements =
    "Die Abfrage muss eine einzige Anweisung sein, nicht mehrere mit \u201e;\u201c: %s",
  table_name_table_not = "`table` muss der Name einer Tabelle sein, nicht %s.",
  database_no_time_limit_query =
    "Bei dieser Datenbank l\u00e4sst sich von hier aus kein Zeitlimit f\u00fcr Abfragen setzen.",
  no_table_user_may_read =
    "In %2$s gibt es keine Tabelle \u201e%1$s\u201c, die dieser Benutzer lesen darf.",
  query_table_took_longer_time =
    paste0("Eine Abfrage der Tabelle \u201e%s\u201c dauerte l\u00e4nger als das Zeitlimit ",
           "von %s und wurde abgebrochen."),
  ask_fewer_questions_time_raise =
    "Fragen Sie nach weniger Fragen auf einmal, oder erh\u00f6hen Sie `time_limit` (--time-limit).",
  database_could_not_answer_about =
    "Die Datenbank konnte \u00fcber die Tabelle \u201e%s\u201c keine Auskunft geben.",
  see_connection_open_user_may =
    "Pr\u00fcfen Sie, ob die Verbindung offen ist und ihr Benutzer diese Tabelle lesen darf.",
  table_changed_column =
    "Die Tabelle \u201e%s\u201c hat sich ge\u00e4ndert: Spalte \u201e%s\u201c %s.",
  call_dbi_table_again = "Rufen Sie dbi_table() noch einmal auf.",
  database_does_not_add_up =
    "Die Datenbank rechnet nicht auf: Ihre Gruppen enthalten %s Datens\u00e4tze, die Tabelle %s.",
  ask_again_or_report =
    paste0("Fragen Sie noch einmal, wenn niemand hineinschreibt; kommt dasselbe heraus, ",
           "melden Sie es mit der Abfrage (show_sql)."),
  database_sums_differ =
    paste0("Die Datenbank rechnet nicht auf: Zwei Summen \u00fcber dieselben Werte (%s) ",
           "weichen voneinander ab."),
  rounds_sums_go_beyond_what =
    "Sie rundet ihre Summen, oder diese \u00fcbersteigen, was ihre Zahlen fassen.",
  store_weights_double_precision_numbers =
    "Speichern Sie die Gewichte als Zahlen doppelter Genauigkeit.",
  first_line_blank = "Die erste Zeile von \u201e%s\u201c ist leer.",
  names_columns = "Sie muss die Namen der Spalten enthalten.",
  cannot_read_end = "\u201e%s\u201c kann nicht bis zum Ende gelesen werden.",
  line_holds_zero_byte_no =
    "Zeile %s von \u201e%s\u201c enth\u00e4lt ein Nullbyte und ist daher kein Text.",
  utf_16_say_encoding_utf =
    "Ist es UTF-16, sagen Sie es mit encoding = \"UTF-16LE\" (--encoding UTF-16LE).",
  first_line_but_line_2 = "Die erste Zeile von \u201e%s\u201c hat %s, Zeile 2 aber %s.",
  line_but_first_line = "Zeile %s von \u201e%s\u201c hat %s, die erste aber %d.",
  separator_inside_answer_needs_quotes =
    paste0("Ein Trennzeichen in einer Antwort verlangt Anf\u00fchrungszeichen um die ",
           "Antwort; die erste Zeile muss jede Spalte benennen."),
  correct_line = "Berichtigen Sie diese Zeile.",
  line_text_after_closing_quote =
    paste0("In Zeile %s von \u201e%s\u201c steht Text nach einem schlie\u00dfenden ",
           "Anf\u00fchrungszeichen."),
  quote_inside_cell_quotes_written =
    "Ein Anf\u00fchrungszeichen in einer Zelle in Anf\u00fchrungszeichen wird verdoppelt (\"\").",
  quote_opens_line_never_closed =
    paste0("Ein Anf\u00fchrungszeichen, das in Zeile %s von \u201e%s\u201c \u00f6ffnet, ",
           "wird nie geschlossen."),
  close_write_twice_belongs_answer =
    "Schlie\u00dfen Sie es, oder verdoppeln Sie es (\"\"), wenn es zur Antwort geh\u00f6rt.",
  r_does_not_know_encoding = "Dieses R kennt die Zeichenkodierung \u201e%s\u201c nicht.",
  iconvlist_lists_those_knows = "iconvlist() z\u00e4hlt die bekannten auf.",
  file_is_not_text = "\u201e%s\u201c ist kein %s-Text.",
  first_line_names_columns_most =
    "Die erste Zeile von \u201e%s\u201c nennt %s Spalten; h\u00f6chstens %s werden gelesen.",
  table_turned_side_not_set =
    paste0("Liegt die Tabelle auf der Seite? Wenn nicht, setzen Sie ",
           "options(fairlattice.most_columns = ZAHL)."),
  file_column_has_no_name = "Spalte %d von \u201e%s\u201c hat keinen Namen.",
  two_columns_named_columns = "\u201e%s\u201c hat zwei Spalten namens \u201e%s\u201c (Spalten %s).",
  rename_one = "Benennen Sie eine davon um.",
  line_not_utf_8_text = "Zeile %s von \u201e%s\u201c ist kein UTF-8-Text (%s).",
  may_latin_1_read_encoding =
    paste0("Vielleicht ist es Latin-1: Lesen Sie die Datei mit encoding = \"latin1\" ",
           "(--encoding latin1), oder speichern Sie sie als UTF-8."),
  no_demo_file_named = "Keine Demodatei hei\u00dft \u201e%s\u201c.",
  whole_number_least_10_not = "`%s` muss eine ganze Zahl von mindestens 10 sein, nicht %s.",
  file_cannot_be_written = "\u201e%s\u201c kann nicht geschrieben werden.",
  see_folder_may_written_room =
    "Pr\u00fcfen Sie, ob in den Ordner geschrieben werden darf und Platz ist.",
  cut_short_disk_may_full =
    "Die Datei wurde abgeschnitten: Vielleicht ist der Datentr\u00e4ger voll.",
  could_not_put_place = "Sie konnte nicht an ihren Platz gebracht werden.",
  link_leads_itself = "\u201e%s\u201c ist ein Verweis auf sich selbst.",
  no_file_but_device_pipe =
    "\u201e%s\u201c ist keine Datei, sondern ein Ger\u00e4t, eine Pipe oder ein Socket.",
  name_file = "Nennen Sie eine Datei.",
  folder_no_file_name_can =
    "\u201e%s\u201c ist ein Ordner, daher kann keine Datei dieses Namens geschrieben werden.",
  link_into_folder_not = "\u201e%s\u201c verweist in einen Ordner, den es nicht gibt.",
  make_first_name_another = "Legen Sie ihn zuerst an, oder nennen Sie einen anderen.",
  file_command_reads_not_written =
    "\u201e%s\u201c ist eine Datei, die dieser Befehl liest; sie wird nicht \u00fcberschrieben.",
  no_room_temporary_copy =
    "In \u201e%s\u201c ist kein Platz f\u00fcr eine vor\u00fcbergehende Kopie.",
  free_some_point_tmpdir_folder =
    "Schaffen Sie Platz, oder lassen Sie TMPDIR auf einen Ordner mit mehr Platz zeigen.",
  package_needed = "Das Paket \u201e%s\u201c wird gebraucht, um %s.",
  install_install_packages = "Installieren Sie es mit install.packages(\"%s\").",
  sheet_spans_rows_columns_most =
    paste0("Ein Blatt von \u201e%s\u201c umfasst %s Zeilen und %s Spalten; h\u00f6chstens ",
           "%s Zellen werden gelesen."),
  stray_cell_far_off_choose =
    paste0("Steht weit au\u00dferhalb eine verirrte Zelle? W\u00e4hlen Sie die Zellen mit ",
           "`range` (--range), oder setzen Sie options(fairlattice.most_sheet_cells = ZAHL)."),
  range_cells_sheet_not = "`range` muss Zellen eines Blatts nennen, nicht %s.",
  write_b2_h400_b2_all = "Schreiben Sie B2:H400, oder B2 f\u00fcr alle Zellen ab dort.",
  range_workbooks_xlsx_opendocument_sheet =
    "`range` ist f\u00fcr Arbeitsmappen (.xlsx): Ein OpenDocument-Blatt wird ganz gelesen.",
  declares_document_type = "\u201e%s\u201c deklariert einen Dokumenttyp.",
  declares_entities_not_read =
    "\u201e%s\u201c deklariert Entit\u00e4ten, die nicht gelesen werden.",
  remove_such_file_no_need = "Entfernen Sie sie: Eine solche Datei braucht keine.",
  sheet_one_name_number = "`sheet` muss ein Name oder eine Nummer sein.",
  no_sheet = "\u201e%s\u201c hat kein Blatt \u201e%s\u201c.",
  sheet_no_records = "Blatt \u201e%s\u201c von \u201e%s\u201c hat keine Datens\u00e4tze.",
  column_sheet_no_name_first =
    "Spalte %d des Blatts \u201e%s\u201c hat in der ersten Zeile keinen Namen.",
  every_column_needs_own_name =
    paste0("Jede Spalte braucht dort ihren eigenen Namen: Trennen Sie verbundene ",
           "Kopfzellen, oder w\u00e4hlen Sie die Zellen mit `range` (--range)."),
  nested_too_deeply = "Es ist zu tief verschachtelt.",
  text_is_not_json = "Es ist kein JSON.",
  not_json_can_read = "Es ist kein lesbares JSON.",
  cannot_read_json = "\u201e%s\u201c kann nicht als JSON gelesen werden.",
  line_holds_several_objects = "Eine Zeile enth\u00e4lt mehr als ein Objekt.",
  in_wave_before = "In der Welle davor: %s",
  line_not_json = "Zeile %s von \u201e%s\u201c ist kein JSON.",
  json_lines_one_object_line = "JSON-Zeilen haben ein Objekt je Zeile, in UTF-8.",
  not_list_records = "\u201e%s\u201c ist keine Liste von Datens\u00e4tzen.",
  list_objects_one_record_same =
    "Es muss eine Liste von Objekten sein, eines je Datensatz, mit denselben Schl\u00fcsseln.",
  key_no_name = "Ein Schl\u00fcssel von \u201e%s\u201c hat keinen Namen.",
  holds_lists_objects_not_single =
    "In \u201e%s\u201c enth\u00e4lt \u201e%s\u201c Listen oder Objekte statt einzelner Werte.",
  x_data_frame_survey_not = "`x` muss ein Data Frame oder eine Umfrage sein, nicht %s.",
  find_one_string_not = "`find` muss ein Text sein, nicht %s.",
  no_question_name_title = "Keine Frage hat \u201e%s\u201c in Namen oder Titel.",
  question_name_question = "`question` muss eine Frage nennen.",
  every_net_needs_name = "Jede Zwischensumme braucht ihren Namen.",
  write_satisfied_c_satisfied_very =
    "Schreiben Sie Zufrieden = c(\"Zufrieden\", \"Sehr zufrieden\").",
  net_answers_each_named_once =
    "Die Zwischensumme \u201e%s\u201c muss Antworten enthalten, jede einmal genannt, nicht %s.",
  net_takes_all_answers_everybody =
    paste0("Die Zwischensumme \u201e%s\u201c umfasst alle Antworten von \u201e%s\u201c, ",
           "also alle Befragten."),
  resources_not_clear_meant =
    "\u201e%s\u201c hat %d Ressourcen (%s); es ist nicht klar, welche gemeint ist.",
  name_one_sheet_sheet = "Nennen Sie eine mit `sheet` (--sheet).",
  names_not_file_own_folder = "\u201e%s\u201c nennt \u201e%s\u201c, keine Datei im eigenen Ordner.",
  files_read_only_folder_data = "Dateien werden nur aus dem Ordner des Datenpakets gelesen.",
  file_cannot_be_read = "\u201e%s\u201c kann nicht gelesen werden.",
  no_resources = "\u201e%s\u201c hat keine Ressourcen.",
  resource_no_path_name_not =
    "Ressource %d von \u201e%s\u201c hat keinen Pfad oder einen Namen, der kein Text ist.",
  schema_one_file_none_names =
    "Das Schema von \u201e%s\u201c muss eine Datei sein, und keine, die ein anderes Paket nennt.",
  schema_not_file_package_own =
    "Das Schema \u201e%s\u201c ist keine Datei im eigenen Ordner des Pakets.",
  codebook_no_variables_var = "Das Codebuch \u201e%s\u201c hat keine Variablen (var).",
  x_data_frame_survey_one = "`x` muss ein Data Frame, eine Umfrage oder eine Frage sein, nicht %s.",
  may_new_answer_short_question =
    "`%s` kann eine neue Antwort sein oder kurz f\u00fcr `question` stehen.",
  write_question_full_new_answers = "Schreiben Sie question = aus, und die neuen Antworten danach.",
  table_made_records_not_counts =
    "Diese Tabelle wurde aus Datens\u00e4tzen erstellt, nicht aus Anzahlen.",
  join_answers_records_make_table =
    "Fassen Sie die Antworten der Datens\u00e4tze zusammen, und erstellen Sie die Tabelle neu.",
  question_name_rows_columns = "`question` muss die Zeilen oder die Spalten nennen.",
  answers_texts = "`answers` m\u00fcssen Texte sein.",
  order_name_all_answers_not =
    "Die Reihenfolge muss alle Antworten von \u201e%s\u201c nennen; es fehlt %s.",
  title_one_text_not = "`title` muss ein Text sein, nicht %s.",
  answer_named_twice = "Die Antwort \u201e%s\u201c ist zweimal genannt.",
  combining_would_cut_net_two =
    "Die Zusammenlegung \u201e%s\u201c w\u00fcrde die Zwischensumme \u201e%s\u201c zerschneiden.",
  take_net_away_first_net =
    "Entfernen Sie die Zwischensumme zuerst mit net(), oder legen Sie andere Antworten zusammen.",
  would_combine_answers_different_scores =
    paste0("\u201e%s\u201c w\u00fcrde Antworten von \u201e%s\u201c mit verschiedenen Werten ",
           "zusammenlegen."),
  give_scores_after_answers_been = "Vergeben Sie Werte, nachdem die Antworten zusammengelegt sind.",
  every_new_answer_needs_name = "Jede neue Antwort braucht ihren Namen.",
  write_new_c_old_older = "Schreiben Sie Neu = c(\"Alt\", \"\u00c4lter\").",
  combination_needs_least_two_questions = "Eine Kombination braucht mindestens zwei Fragen.",
  answers_no_order_make_no =
    "Die Antworten von \u201e%s\u201c haben keine Reihenfolge und ergeben daher keinen Wert.",
  give_ordered_questions_numbers = "Geben Sie geordnete Fragen oder Zahlen an.",
  give_one_new_name_columns = "Geben Sie einen neuen Namen und dessen Spalten an.",
  write_name_c_first_second = "Schreiben Sie name = c(erste, zweite).",
  id_name_column = "`id` muss eine Spalte nennen.",
  one_per = "one_per()",
  keep_first_last_condition_words =
    "`keep` muss \"first\", \"last\" oder eine Bedingung als Text sein.",
  replicates_survey_made_records_weights =
    paste0("Die Replikationen dieser Umfrage wurden aus ihren bisherigen Datens\u00e4tzen ",
           "und Gewichten erzeugt."),
  call_make_replicates_after_step = "Rufen Sie make_replicates() nach diesem Schritt auf.",
  delimiter_one_character_not = "`delimiter` muss ein Zeichen sein, nicht %s.",
  write_tab = "Schreiben Sie \",\", \";\", \"|\" oder \"tab\".",
  path_file_name_not = "`path` muss ein Dateiname sein, nicht %s.",
  files_not = "`%s` ist f\u00fcr %s-Dateien, nicht f\u00fcr \u201e%s\u201c.",
  leave_out = "Lassen Sie es weg.",
  kind_not_read = "\u201e%s\u201c ist von einer Art, die nicht gelesen wird.",
  kinds_these_packed = "Arten: %s, und diese gepackt als %s.",
  files_differ_in_one_column =
    paste0("\u201e%s\u201c und \u201e%s\u201c haben nicht dieselben Spalten: \u201e%s\u201c ",
           "steht nur in einer von beiden."),
  path_one_file_name_not = "`path` muss ein einzelner Dateiname sein, nicht %s.",
  folder_not_file = "\u201e%s\u201c ist ein Ordner, keine Datei.",
  records_parts_read_where_lie =
    paste0("Datens\u00e4tze in Teilen werden dort gelesen, wo sie liegen: ",
           "records_in_chunks() (--in-chunks)."),
  did_you_mean = "Meinten Sie \u201e%s\u201c?",
  file_empty = "Die Datei \u201e%s\u201c ist leer.",
  x_counts_one_table_made =
    paste0("`x` m\u00fcssen Anzahlen oder eine einzelne Tabelle aus Datens\u00e4tzen oder ",
           "Anzahlen sein, ohne `each` und ohne Mehrfachnennungen."),
  claimed_number_not = "Der behauptete Wert `%s` muss eine Zahl sein, nicht %s.",
  claimed_not_no_table_such =
    "Der behauptete Wert `%s` muss %s sein, nicht %s: Keine Tabelle hat einen solchen.",
  claims_cannot_checked = "Die Behauptungen lassen sich nicht pr\u00fcfen: %s.",
  percent_matrix_percentages_between_0 =
    "`percent` muss eine Matrix von Prozentwerten zwischen 0 und 100 sein.",
  base_whole_numbers_one_column = "`base` m\u00fcssen %d ganze Zahlen sein, eine je Spalte.",
  base_too_large_go_through =
    "Eine Basis von %s ist zu gro\u00df, um ihre Anzahlen durchzugehen; h\u00f6chstens %s.",
  many_respondents_percentages_say_nearly =
    "Bei so vielen Befragten sagen die Prozentwerte fast alles, was die Anzahlen sagen.",
  number_counts_itself_leave_scores =
    "\u201e%s\u201c ist eine Zahl und z\u00e4hlt als sie selbst: Lassen Sie `scores` weg.",
  ticks_tick_all_question_no = "Nennungen einer Mehrfachfrage haben keine Werte.",
  answers_no_order_no_scores =
    "Die Antworten von \u201e%s\u201c haben keine Reihenfolge und daher keine eigenen Werte.",
  give_scores_c_answer_1 = "Geben Sie welche an: scores = c(\"Antwort\" = 1, ...).",
  scores_numbers_one_every_answer =
    "`scores` m\u00fcssen %d Zahlen sein, eine f\u00fcr jede Antwort von \u201e%s\u201c (%s).",
  question_name_questions = "`question` und `by` m\u00fcssen Fragen nennen.",
  cannot_subdivided_itself = "\u201e%s\u201c kann nicht nach sich selbst untergliedert werden.",
  name_one_text_not = "`name` muss ein Text sein, nicht %s.",
  column_already = "Eine Spalte \u201e%s\u201c gibt es schon.",
  give_another_name = "W\u00e4hlen Sie einen anderen `name`.",
  tick_all_question_not_subdivided =
    "Eine Mehrfachfrage wird nicht untergliedert: Ihre Punkte schlie\u00dfen einander nicht aus.",
  none_ticks_stand_joined_one =
    "`none` betrifft Nennungen, die gemeinsam in einer Spalte stehen: Es braucht `split`.",
  value_record_neither_ticked_nor =
    paste0("\u201e%s\u201c hat den Wert \u201e%s\u201c (Datensatz %d), der weder genannt ",
           "noch nicht genannt bedeutet."),
  items_0_1_yes_no =
    "Punkte sind 0 und 1, ja und nein, genannt und nicht genannt, oder ein Name und leer.",
  split_none_texts = "`split` und `none` m\u00fcssen Texte sein.",
  split_one_sign_parts_ticks = "`split` muss das eine Zeichen sein, das die Nennungen trennt.",
  no_tick_any_record = "In keinem Datensatz gibt es eine Nennung.",
  program_zstd_needed_read_zst = "Zum Lesen einer .zst-Datei wird das Programm zstd gebraucht.",
  install_debian_ubuntu_apt_get =
    paste0("Installieren Sie es (Debian, Ubuntu: apt-get install zstd), oder entpacken Sie ",
           "die Datei zuerst."),
  holds_files_not_clear_read =
    "\u201e%s\u201c enth\u00e4lt %d Dateien; es ist nicht klar, welche gelesen werden soll.",
  unpack_one_meant = "Entpacken Sie die gemeinte.",
  locked_password = "\u201e%s\u201c ist mit einem Passwort gesperrt.",
  unpack_first = "Entpacken Sie die Datei zuerst.",
  packed_way_not_read_method =
    "\u201e%s\u201c ist auf eine Weise gepackt, die nicht gelesen wird (Methode %s).",
  unpacks_more_mib_most_read =
    "\u201e%s\u201c ist entpackt gr\u00f6\u00dfer als %s MiB, mehr wird nicht gelesen.",
  truly_large_set_options_fairlattice =
    "Ist die Datei wirklich so gro\u00df, setzen Sie options(fairlattice.most_unpacked = BYTES).",
  not_cut_short_damaged =
    "\u201e%s\u201c ist nicht %s: Die Datei ist abgeschnitten oder besch\u00e4digt.",
  no_column_begins = "Keine Spalte beginnt mit \u201e%s\u201c.",
  questions_differ_in_one_wave =
    paste0("\u201e%s\u201c und \u201e%s\u201c haben nicht dieselben Wellen: \u201e%s\u201c ",
           "steht nur in einer von beiden."),
  answers_not_same_every_wave =
    "Die Antworten von \u201e%s\u201c sind nicht in jeder Welle dieselben.",
  calibrating_replicate_weights = "Das Kalibrieren von Replikationsgewichten",
  logit_needs_limits = "`method = \"logit\"` braucht `limits`, etwa c(0.3, 3).",
  weights_of_whole_clusters = "Gewichte f\u00fcr ganze Klumpen",
  trimming_weights = "Das Stutzen von Gewichten",
  by_cluster_needs_clusters = "`by = \"cluster\"` braucht eine Erhebung mit Klumpen.",
  bounds_two_numbers =
    paste0("`%s` m\u00fcssen zwei Zahlen sein, etwa c(0.3, 3): die erste von 0 bis 1, ",
           "die zweite mindestens 1."),
  weights_would_be_negative = "%d Gewichte w\u00e4ren negativ.",
  name_limits_or_raking =
    paste0("Geben Sie `limits` an, etwa c(0.3, 3), oder nehmen Sie `method = ",
           "\"raking\"`."),
  target_number_of_answers =
    paste0("Die Vorgabe f\u00fcr \u201e%s\u201c ist eine einzelne Zahl, die Spalte hat ",
           "aber Antworten."),
  target_number_cannot_be_met =
    paste0("Die Vorgabe f\u00fcr \u201e%s\u201c ist nicht zu erf\u00fcllen: Sie ist ",
           "keine endliche Zahl, oder niemand in der Stichprobe hat eine au\u00dfer 0."),
  targets_of_different_totals =
    paste0("Die Vorgaben geh\u00f6ren zu verschiedenen Grundgesamtheiten: ",
           "\u201e%s\u201c ergibt %s, \u201e%s\u201c %s."),
  calibrated_to_needs_weight =
    "`calibrated_to` braucht die kalibrierten Gewichte: Nennen Sie `weight`.",
  weigh_to_calibrates = "Gewichte, die bekannte Randverteilungen treffen, macht weigh_to().",
  bootstrap_of_calibrated_weights =
    paste0("Die Gewichte sind kalibriert; ein Bootstrap m\u00fcsste jede seiner ",
           "Stichproben kalibrieren."),
  tallies_of_calibrated_weights =
    paste0("Tabellensummen mit kalibrierten Gewichten lassen sich nicht addieren: Die ",
           "R\u00e4nder gelten f\u00fcr alle Datens\u00e4tze zusammen."),
  put_records_together_first =
    paste0("F\u00fcgen Sie erst die Datens\u00e4tze zusammen, und sagen Sie dann, ",
           "wie sie gezogen und gewichtet wurden."),
  population_of_stage_known =
    paste0("Stufe %d: `population` muss f\u00fcr jede Einheit bekannt und ",
           "gr\u00f6\u00dfer als 0 sein."),
  population_one_number_a_stratum =
    paste0("Stufe %d: `population` muss eine Zahl je Schicht sein, oder aus Raten ",
           "bis 1 bestehen; in \u201e%s\u201c sind die Zahlen verschieden."),
  population_one_value_a_unit =
    paste0("Stufe %d: `population` muss f\u00fcr alle Datens\u00e4tze einer Einheit ",
           "denselben Wert haben."),
  strata_of_more_stages = "`stratum` nennt mehr Stufen als `cluster`.",
  population_of_more_stages =
    paste0("`population` nennt mehr Stufen, als es gibt: eine f\u00fcr jede von ",
           "`cluster`, und eine mehr, wenn aus den letzten Klumpen Befragte gezogen ",
           "wurden."),
  respondents_drawn_from_clusters = "Eine letzte Stufe von Befragten",
  half_samples_of_one_stage = "Balancierte Halbstichproben gelten nur der ersten Stufe.",
  use_bootstrap_or_jackknife =
    paste0("Nehmen Sie \"bootstrap\" oder \"jackknife\", oder lassen Sie ",
           "`population` weg."),
  tallies_of_several_stages =
    "Tabellensummen einer mehrstufigen Stichprobe lassen sich nicht addieren.",
  adjusting_for_nonresponse = "Der Ausgleich von Antwortausf\u00e4llen",
  response_not_known =
    paste0("Von %d Personen der Stichprobe ist nicht bekannt, ob sie teilnahmen, ",
           "oder ihre Klasse."),
  response_known_of_all =
    paste0("Geben Sie jedem Datensatz eine Klasse, und eine Bedingung, die gilt ",
           "oder nicht gilt."),
  class_without_response = "In %d Klassen nahm niemand teil (%d Personen).",
  join_classes = "Fassen Sie sie mit \u00e4hnlichen Klassen zusammen.",
  imputations_data_frames =
    paste0("Imputierte Datens\u00e4tze m\u00fcssen eine Liste aus mindestens zwei ",
           "Data Frames sein."),
  imputations_differ =
    paste0("Imputierte Datens\u00e4tze m\u00fcssen dieselben Spalten und gleich ",
           "viele S\u00e4tze haben: Nummer %d hat %d S\u00e4tze und %d Spalten, der ",
           "erste %d und %d."),
  imputations_columns_differ =
    paste0("Die Spalte \u201e%s\u201c des imputierten Datensatzes %d hat andere ",
           "Antworten als die des ersten."),
  imputation_column_taken =
    paste0("Die imputierten Datens\u00e4tze haben schon eine Spalte \u201e%s\u201c: ",
           "Nennen Sie sie als `imputation`, in einem Data Frame."),
  imputation_not_known =
    paste0("%d Datens\u00e4tze sagen nicht, zu welcher Imputation sie geh\u00f6ren."),
  imputation_only_one = "Es gibt nur eine Imputation: Lassen Sie `imputation` weg.",
  imputations_of_different_size =
    paste0("Jede Imputation muss dieselben Personen haben: \u201e%s\u201c hat %s ",
           "Datens\u00e4tze, eine andere %s."),
  imputations_of_other_people =
    paste0("Jede Imputation muss dieselben Personen in derselben Reihenfolge haben; ",
           "ihr `%s` ist aber verschieden."),
  sort_each_imputation_alike = "Sortieren Sie die Datens\u00e4tze nach Imputation und Person.",
  tallies_of_imputations =
    paste0("Tabellensummen imputierter Datens\u00e4tze lassen sich nicht addieren."),
  bootstrap_of_imputations =
    paste0("F\u00fcr imputierte Datens\u00e4tze gibt es keine Bootstrap-Intervalle: ",
           "Ihre verbinden die Varianz in ihnen und zwischen ihnen."),
  waves_imputed_differently = "Wellen mit verschieden vielen Imputationen lassen sich nicht zusammenlegen: %s.",
  waves_imputed_as_often = "Geben Sie von jeder Welle gleich viele imputierte Datens\u00e4tze an oder einen.",
  standard_needs_each =
    paste0("Eine standardisierte Tabelle braucht Klassen: die Antworten von `each`, ",
           "bei zwei Fragen mit einer Antwort je Person."),
  standard_each_how = "Etwa standardised(crosstab(survey, leave, tenure, each = age_group)).",
  standard_numbers =
    paste0("`to` muss aus Zahlen bestehen, benannt nach den Klassen und nicht unter ",
           "0."),
  standard_one_a_class =
    paste0("`to` muss eine Zahl je Klasse haben; \u201e%s\u201c steht nur in einem ",
           "von beiden."),
  standard_no_column =
    paste0("`to` ist \"total\", eine Spalte der Tabelle oder Zahlen, und keine ",
           "Spalte hei\u00dft \u201e%s\u201c."),
  class_width_above_0 = "`class_width` muss eine Zahl \u00fcber 0 sein, nicht %s.",
  class_width_needs_quantiles =
    "Eine Klassenbreite sagt, worauf die Zahl der Quantile gerundet ist: Nennen Sie diese.",
  standard_needs_standardise =
    paste0("--standard sagt, worauf --standardise standardisiert: Nennen Sie die ",
           "Klassen."),
  standard_not_shares =
    paste0("Der Standard ist total, eine Spalte, oder Anteile wie ",
           "\u201ejung=30\u201c, nicht \u201e%s\u201c."),
  quantiles_between_0_100 =
    paste0("Quantile und Teile sind Zahlen zwischen 0 und 100, etwa c(10, 50, 90)."),
  inequality_below_0 =
    paste0("Wie ungleich eine Zahl verteilt ist, l\u00e4sst sich nur bei Werten ",
           "sagen, die nicht unter 0 liegen."),
  ratio_needs_two_numbers =
    paste0("Ein Verh\u00e4ltnis braucht zwei Zahlen: Nennen Sie `top` und `bottom`."),
  ratio_of_numbers = "Die Spalte \u201e%s\u201c ist keine Zahl.",
  pooled_waves_of_surveys =
    paste0("Zusammengefasste Wellen sind mindestens zwei Erhebungen aus ",
           "respondents()."),
  pooled_waves_divided =
    paste0("`divide` muss \"equal\", \"size\" oder %d positive Zahlen sein, eine je ",
           "Welle."),
  pooled_waves_column_taken =
    paste0("Die Wellen haben schon eine Spalte \u201ewave\u201c, die die Welle ",
           "nennen soll: Benennen Sie sie um."),
  boxes_need_pairs =
    paste0("K\u00e4sten brauchen Quantile auf beiden Seiten des Medians, gleich ",
           "weit von ihm, etwa c(25, 50, 75)."),
  margin_not_held =
    paste0("Die Gewichte halten den Rand \u201e%s\u201c nicht ein: %s ergibt %s, ",
           "nicht %s."),
  margin_not_held_how =
    paste0("Nennen Sie die R\u00e4nder, an denen sie kalibriert wurden, oder ",
           "kalibrieren Sie mit weigh_to()."),
  margin_of_numbers =
    paste0("Was vom Rand \u201e%s\u201c bekannt ist, muss aus Zahlen bestehen, ",
           "benannt nach den Antworten."),
  targets_list_shares_named_question =
    "`targets` muss eine Liste von Anteilen sein, benannt nach der Frage.",
  target_several_questions_needs_column =
    paste0("Eine Vorgabe f\u00fcr mehrere Fragen braucht eine Spalte `share` oder ",
           "`count`."),
  every_target_named_question = "Jede Vorgabe muss nach ihrer Frage benannt sein.",
  shares_positive_each_named_once =
    paste0("Die Anteile von \u201e%s\u201c m\u00fcssen positiv sein, jeder einmal nach ",
           "seiner Antwort benannt."),
  shares_add_up_not_1 = "Die Anteile von \u201e%s\u201c ergeben zusammen %s, nicht 1 oder 100.",
  sample_no_share_target =
    paste0("Die Stichprobe hat \u201e%s\u201c in \u201e%s\u201c, wof\u00fcr die Vorgabe ",
           "keinen Anteil nennt."),
  nobody_sample_no_weights_can =
    paste0("Niemand in der Stichprobe hat \u201e%s\u201c in \u201e%s\u201c; keine Gewichte ",
           "k\u00f6nnen den Anteil auf %s %% bringen."),
  join_another_answer_data_target =
    "Legen Sie sie mit einer anderen Antwort zusammen, in den Daten und in der Vorgabe.",
  x_data_frame_not = "`x` muss ein Data Frame sein, nicht %s.",
  path_one_file_name_ends = "`path` muss ein Dateiname sein, der auf %s endet.",
  no_folder = "Es gibt keinen Ordner \u201e%s\u201c.",
  give_table_n_r_c = "Geben Sie eine Tabelle an, oder `n`, `r` und `c`.",
  against_answer_not = "`against` muss %s oder eine Antwort sein, nicht %s.",
  pairs_lines_too_many_compare =
    "%s Paare von %s in %s Zeilen sind zu viele f\u00fcr einen Vergleich.",
  combine_answers_into_fewer_keep =
    "Fassen Sie Antworten zusammen, oder behalten Sie mit among() weniger.",
  nobody_answered_question = "Niemand hat diese Frage beantwortet.",
  tests_names_tests_not = "`tests` m\u00fcssen Namen von Tests sein, nicht %s.",
  there_is_no_test = "Es gibt keinen Test %s.",
  wrong_number_of_values = "`%s` hat %d: %s.",
  no_scores_answers_not_averaged =
    "\u201e%s\u201c hat keine Werte, und Antworten werden nicht ungefragt gemittelt.",
  say_what_count_score = "Sagen Sie mit score(), wof\u00fcr sie z\u00e4hlen.",
  one_table_only_nothing_take = "Es gibt nur eine Tabelle, also nichts zusammenzufassen.",
  make_crosstab_each = "Erstellen Sie die Kreuztabelle mit `each`.",
  x_one_table_made_records =
    paste0("`x` muss eine einzelne Tabelle aus Datens\u00e4tzen oder Anzahlen sein, ohne ",
           "`each` und ohne Mehrfachnennungen."),
  answer_table_not = "`%s` muss eine Antwort der Tabelle sein, nicht %s.",
  scores_pearson_r_equal_given =
    "`scores` von Pearsons r m\u00fcssen \"equal\" oder angegeben sein.",
  r_between_midranks_spearman_rho =
    paste0("r zwischen mittleren R\u00e4ngen ist Spearmans Rho: W\u00e4hlen Sie measures = ",
           "\"spearman_rho\"."),
  measures_names_measures_not = "`measures` m\u00fcssen Namen von Ma\u00dfen sein, nicht %s.",
  there_is_no_measure = "Es gibt kein Ma\u00df %s.",
  table_no_tick_all_question = "Diese Tabelle hat keine Mehrfachfrage.",
  make_one_ticks_table_crosstab =
    "Erstellen Sie eine mit ticks(), und eine Tabelle davon mit crosstab().",
  show_names_twice = "`show` nennt \u201e%s\u201c zweimal.",
  labels_named_answers_c_very =
    "`labels` m\u00fcssen nach den Antworten benannt sein: c(\"Sehr zufrieden\" = \"Sehr\").",
  source_true_false_one_text = "`source` muss TRUE, FALSE oder ein Text sein, nicht %s.",
  show_without_what_interval = "`show` hat \u201e%s\u201c ohne die Zahl, zu der es geh\u00f6rt.",
  show_too_interval_alone = "Zeigen Sie auch %s, oder dies allein.",
  decimals_whole_numbers_0_15 = "`decimals` m\u00fcssen ganze Zahlen von 0 bis 15 sein, nicht %s.",
  flag_one_or_two_limits = "`%s` muss eine oder zwei Grenzen haben, Zahlen \u00fcber 0, nicht %s.",
  flag_limits_like = paste(
    "Schreiben Sie `%s` mit der Grenze f\u00fcr Vorsicht und der, jenseits derer",
    "nichts gezeigt wird."),
  flag_limits_wrong_way = paste(
    "`%s` hat die Grenzen verkehrt herum: %s f\u00fcr Vorsicht g\u00e4lte erst nach",
    "%s, wo schon nichts mehr gezeigt wird."),
  totals_need_weights = paste(
    "Hochrechnungen brauchen Gewichte, die sagen, f\u00fcr wie viele Personen",
    "jeder Befragte steht."),
  totals_weight_how = "Nennen Sie ihre Spalte als `weight` (--weight); Anzahlen der Befragten sind `n`.",
  cannot_be_protected = paste(
    "%s (%s) hat unter %s Befragte, und zu wenige andere Anzahlen sind",
    "geheim zu halten, als dass es eine um %s andere sein k\u00f6nnte."),
  cannot_be_protected_how = paste(
    "Fassen Sie Antworten zusammen, lassen Sie die Tabelle weg, verlangen Sie",
    "ein kleineres `protect`, oder halten Sie in jeder Tabelle dieser Personen",
    "mit dieser Frage geheim."),
  would_show_what_round_to_hides = "\u201e%s\u201c w\u00fcrde zeigen, was `round_to` verbirgt.",
  rounded_counts = "Mit gerundeten Anzahlen gibt es: %s.",
  would_show_what_round_to_hides_ask =
    "`%s` w\u00fcrde zeigen, was `round_to` verbirgt: W\u00e4hlen Sie eines von beiden.",
  counts_either_withheld_rounded_ask =
    paste0("Anzahlen werden entweder zur\u00fcckgehalten oder gerundet: W\u00e4hlen Sie ",
           "eines von `withhold_under` und `round_to`."),
  these_questions_different_answers_one =
    "Diese Fragen haben verschiedene Antworten und passen daher nicht in eine Abbildung.",
  draw_one_question_down_time =
    "Zeichnen Sie eine Zeilenfrage auf einmal: Ihre Spaltenfragen werden zu Feldern.",
  sections_style_named = "Abschnitte eines Hausstils m\u00fcssen benannt sein.",
  write_house_style_rules_list_head = "Schreiben Sie house_style(rules = list(head = \"thick\")).",
  style_house_style_path_file_not =
    "`style` muss von house_style() stammen oder der Pfad seiner Datei sein, nicht %s.",
  no_style_file = "Es gibt keine Stildatei \u201e%s\u201c.",
  does_not_end_yml_yaml = "\u201e%s\u201c endet nicht auf .yml oder .yaml.",
  house_style_yaml_file = "Ein Hausstil ist eine YAML-Datei.",
  style_cannot_read = "Der Hausstil \u201e%s\u201c kann nicht gelesen werden.",
  no_sections = "Er hat keine Abschnitte.",
  write_like_decimals = "Sie werden so geschrieben: \u201edecimals:\u201c.",
  style_no = "Ein Hausstil hat kein \u201e%s\u201c.",
  language_not = "\u201elanguage\u201c muss %s sein, nicht %s.",
  decimals_thousands_same_mark = "Dezimal- und Tausenderzeichen sind gleich.",
  hold_keys_values_not = "\u201e%s\u201c muss Schl\u00fcssel mit Werten enthalten, nicht %s.",
  key_has_no = "\u201e%s\u201c hat kein \u201e%s\u201c.",
  key_must_be_not = "\u201e%s\u201c muss %s sein, nicht %s.",
  sentence_figures_style_cannot_change =
    "\u201e%s\u201c ist ein Satz mit Zahlen darin, den ein Hausstil nicht \u00e4ndern kann.",
  one_text_not = "\u201e%s\u201c muss ein Text sein, nicht %s.",
  says_how_book_shown_none = "`as` sagt, wie ein Tabellenband gezeigt wird, und dies ist keiner.",
  no_table_here_can_tested = "Hier gibt es keine Tabelle, die sich testen l\u00e4sst.",
  palette_colours_not = "`palette` m\u00fcssen Farben sein, nicht %s.",
  write_c_005a6e_b06a00_instance = "Schreiben Sie zum Beispiel c(\"#005a6e\", \"#b06a00\").",
  figure_needs_answers =
    "Eine Abbildung zeichnet Anteile von Antworten, und die Tabelle zeigt keine.",
  figure_needs_answers_how =
    "Auf eine Antwort oder Gruppe beschr\u00e4nken (`only`), oder gar nicht.",
  nothing_draw_nobody_table = "Es gibt nichts zu zeichnen: In der Tabelle ist niemand.",
  figure_cannot_drawn_table =
    "Eine Abbildung \u201e%s\u201c l\u00e4sst sich von dieser Tabelle nicht zeichnen.",
  r_cannot_draw_figures_built =
    "Dieses R kann keine Abbildungen zeichnen: Es wurde ohne cairo gebaut.",
  install_svglite_svg_html_ragg =
    paste0("Installieren Sie svglite (f\u00fcr .svg und .html) oder ragg (f\u00fcr .png und ",
           ".docx), oder w\u00e4hlen Sie figure = \"none\"."),
  table_number_no_cells_list = "Die Tabelle einer Zahl hat keine Zellen zum Auflisten.",
  means_figures_data_frame = "means() gibt ihre Werte als Data Frame.",
  file_is_not_json = "\u201e%s\u201c ist kein JSON.",
  what_file_carries_is_damaged = paste("Was \u201e%s\u201c dar\u00fcber mitf\u00fchrt, wie es",
                                       "gemacht wurde, ist besch\u00e4digt."),
  book_holds_no_tables = paste("\u201e%s\u201c ist ein Buch; es f\u00fchrt mit, wie es",
                               "gemacht wurde, nicht seine Zahlen."),
  book_data_is_output = paste("Schreiben Sie die Zahlen als eigene Ausgabe: `as = \"data\"`, im",
                              "Plan `{file: cells.json, as: data}`."),
  json_but_holds_no_table = "\u201e%s\u201c ist JSON, enth\u00e4lt aber keine Tabelle.",
  not_utf_8_text_changed =
    paste0("\u201e%s\u201c ist kein UTF-8-Text: Die Datei wurde nach dem Schreiben ",
           "ge\u00e4ndert oder besch\u00e4digt."),
  holds_no_tables_data = "\u201e%s\u201c enth\u00e4lt keine Tabellen als Daten.",
  those_fair_lattice_hold_but =
    "Dateien von Fair Lattice enthalten sie, nur nicht, wo Zahlen zur\u00fcckgehalten werden.",
  frame_result_not_list_rows =
    "\u201e%s\u201c: Der Rahmen eines Ergebnisses ist keine Liste von Zeilen.",
  json_but_not_table_fair = "\u201e%s\u201c ist JSON, aber keine Tabelle von Fair Lattice.",
  format_fairlattice_table = "Ihr \u201eformat\u201c muss \u201efairlattice-table\u201c sein.",
  version_table_format_program_reads =
    paste0("\u201e%s\u201c hat Version %s des Tabellenformats; dieses Programm liest die ",
           "Versionen 1 und 2."),
  part_is_not_what = "\u201e%s\u201c: \u201e%s\u201c ist nicht, was es sein muss.",
  what_says_no_code_text = "\u201e%s\u201c: Was \u201e%s\u201c sagt, hat keinen Code und Text.",
  part_has_no_text = "\u201e%s\u201c: \u201e%s\u201c hat kein \u201e%s\u201c, das Text ist.",
  margins_no = "\u201e%s\u201c: \u201emargins\u201c hat kein \u201e%s\u201c.",
  settings_cannot_read = "\u201e%s\u201c: \u201esettings\u201c kann nicht gelesen werden.",
  what_says_under_code_cannot =
    paste0("\u201e%s\u201c: Was \u201e%s\u201c unter dem Code \u201e%s\u201c sagt, ",
           "l\u00e4sst sich nicht in Worte fassen."),
  not_list_rows = "\u201e%s\u201c: \u201e%s\u201c ist keine Liste von Zeilen.",
  row_no = "\u201e%s\u201c: Zeile %d von \u201e%s\u201c hat kein \u201e%s\u201c.",
  row_no_code_text =
    "\u201e%s\u201c: \u201e%s\u201c in Zeile %d von \u201e%s\u201c hat keinen Code und Text.",
  part_in_row_is_not =
    "\u201e%s\u201c: \u201e%s\u201c in Zeile %d von \u201e%s\u201c ist nicht %s.",
  value_in_row_is_not =
    "\u201e%s\u201c: \u201e%s\u201c in Zeile %d von \u201e%s\u201c ist \u201e%s\u201c, nicht %s.",
  no_latex_machine_makes_pdf =
    "Auf diesem Rechner gibt es kein LaTeX, das das PDF einer Tabelle erzeugt.",
  install_one_debian_ubuntu_apt =
    "Installieren Sie eines (Debian, Ubuntu: apt-get install texlive-latex-recommended).",
  write_docx_html_print_pdf = "Oder schreiben Sie .docx oder .html, und drucken Sie das als PDF.",
  figure_needs_none_figure_pdf = "Die Abbildung braucht keines: .figure.pdf.",
  template_one_path_not = "`template` muss ein Pfad sein, nicht %s.",
  no_template = "Es gibt keine Vorlage \u201e%s\u201c.",
  template_does_not_end = "Die Vorlage \u201e%s\u201c endet nicht auf .%s.",
  file_takes_template_own_kind = "Eine .%s-Datei verlangt eine Vorlage ihrer eigenen Art.",
  cannot_read_template = "\u201e%s\u201c kann nicht als Vorlage gelesen werden.",
  some_parts_would_lie_outside =
    "Einige ihrer Teile l\u00e4gen au\u00dferhalb ihres eigenen Ordners.",
  template_holds_part_twice = "Sie enth\u00e4lt einen Teil zweimal.",
  template_unpacks_to_more = "Entpackt ist sie gr\u00f6\u00dfer als %s MiB.",
  holds_records_table_not_written =
    paste0("\u201e%s\u201c enth\u00e4lt die Datens\u00e4tze dieser Tabelle und wird nicht ",
           "\u00fcberschrieben."),
  counts_table_withheld_rounded_what =
    paste0("Anzahlen dieser Tabelle werden zur\u00fcckgehalten oder gerundet, und was ",
           "mitgegeben wird, w\u00fcrde sie verraten."),
  asked_for = "Verlangt wurde: %s.",
  write_table_alone_lay_out =
    "Schreiben Sie die Tabelle allein, oder gestalten Sie sie ohne withhold_under und round_to.",
  counts_table_withheld_rounded_file =
    paste0("Anzahlen dieser Tabelle werden zur\u00fcckgehalten oder gerundet, und eine ",
           ".%s-Datei%s zeigt sie alle."),
  write_page_text_lay_table =
    paste0("Schreiben Sie eine Seite oder einen Text, oder gestalten Sie die Tabelle ohne ",
           "withhold_under und round_to."),
  file_holds_one_figure_tables =
    "Eine %s-Datei enth\u00e4lt eine Abbildung, und es gibt %d Tabellen.",
  write_page_one_table_time = "Schreiben Sie eine Seite, oder eine Tabelle auf einmal.",
  figure_none_nothing_draw = "`figure` ist \"none\", also gibt es nichts zu zeichnen.",
  masters_layouts_relations_do_not = "Ihre Master, Layouts und Beziehungen passen nicht zusammen.",
  template_no_layout_title_alone =
    "Die Vorlage \u201e%s\u201c hat kein Layout nur mit einem Titel.",
  slides_need_one_such_title = "Folien brauchen eines, etwa \u201eNur Titel\u201c.",
  banners_many_questions_down_go =
    "Nebeneinander passen Tabellenk\u00f6pfe mit gleich vielen Zeilenfragen.",
  table_read_file_cannot_stand =
    paste0("Eine aus einer Datei gelesene Tabelle kann nicht in einem Tabellenkopf stehen: ",
           "Die Spalte aller Befragten braucht die Datens\u00e4tze."),
  these_tables_do_not_same = "Diese Tabellen haben nicht dieselbe Angabe %s: %s.",
  tables_beside_each_other_share =
    paste0("Tabellen nebeneinander haben ihre Zeilenfrage gemeinsam, Tabellen untereinander ",
           "die Spaltenfragen; alle sind aus denselben Datens\u00e4tzen."),
  table_would_cells_most = "Die Tabelle h\u00e4tte %s Zellen; h\u00f6chstens %s.",
  cut_numbers_into_bands_join =
    "Teilen Sie Zahlen in Klassen ein, oder fassen Sie Antworten zusammen.",
  no_respondents_table = "In der Tabelle sind keine Befragten.",
  records_by_reason = "%s von %s Datens\u00e4tzen: %s%s.",
  table_one_question_alone = "Diese Tabelle ist von einer einzigen Frage. %s.",
  name_question_across_crosstab = "Nennen Sie in crosstab() eine Spaltenfrage.",
  table_read_file_cannot_worked =
    paste0("Diese Tabelle wurde aus einer Datei gelesen%s; `%s` = %s l\u00e4sst sich ohne ",
           "die Datens\u00e4tze nicht neu berechnen."),
  make_records_crosstab = "Erstellen Sie sie mit crosstab() aus den Datens\u00e4tzen.",
  table_read_file_records_gone =
    "Diese Tabelle wurde aus einer Datei gelesen, und ihre Datens\u00e4tze fehlen.",
  no_such_figures = "Sie hat keine solchen Werte",
  tick_all_question_no_such =
    "Eine Mehrfachfrage hat keine solchen Werte: Eine Person nennt mehrere Punkte.",
  test_items_tests_item_item = "test_items() testet sie Punkt f\u00fcr Punkt.",
  paired_needs_same_answers =
    "`paired` braucht dieselben Antworten in \u201e%s\u201c und \u201e%s\u201c.",
  only_one_side_has = "Nur eine davon hat %s.",
  join_answers_alike_both_leave =
    "Fassen Sie Antworten in beiden gleich zusammen, oder lassen Sie `paired` weg.",
  down_name_question = "`down` muss eine Frage nennen.",
  shares_are_of_one_question_down = "`shares` sind von einer Zeilenfrage ohne Spaltenfrage.",
  overlap_several_questions_across = "`overlap` betrifft mehrere Spaltenfragen.",
  no_p_value_weights_sample =
    "Mit Gewichten oder Stichprobenplan gibt es keinen p-Wert der Art %s.",
  leave_p_out_test_follows = "Lassen Sie `p` weg: Der Test folgt dem Stichprobenplan.",
  shares_question_one_answer_person = "`shares` sind von einer Frage mit einer Antwort je Person.",
  equal_shares_named_answers = "`%s` muss \"equal\" oder nach den Antworten benannte Anteile sein.",
  there_is_no_answer = "Es gibt keine Antwort \u201e%s\u201c.",
  no_share_for = "`%s` hat keinen Anteil f\u00fcr \u201e%s\u201c.",
  shares_add_up_not_1_100 = "Die Anteile in `%s` ergeben zusammen %s, nicht 1 oder 100.",
  answered_but_share_0 = "\u201e%s\u201c wurde geantwortet, der Anteil in `%s` ist aber 0.",
  base_one_text_not = "`base` muss ein Text sein, nicht %s.",
  condition_cannot_worked_out = "Die Bedingung `%s` l\u00e4sst sich nicht auswerten.",
  condition_true_false_every_record =
    "Die Bedingung `%s` muss f\u00fcr jeden Datensatz TRUE oder FALSE sein.",
  compare_column_value_such_age = "Vergleichen Sie eine Spalte mit einem Wert, etwa `age >= 18`.",
  condition_cannot_read = "Die Bedingung `%s` kann nicht gelesen werden%s.",
  write_like_age_18_island = "Sie wird so geschrieben: `age >= 18 & island == 'Norrey'`.",
  condition_too_many_terms = "Die Bedingung hat zu viele Glieder.",
  several_answers_one_question_go = "Mehrere Antworten einer Frage geh\u00f6ren in %in% c(...).",
  condition_nested_too_deeply = "Die Bedingung ist zu tief verschachtelt.",
  condition_cannot_hold = "Eine Bedingung kann `%s` nicht enthalten.",
  may_compare_columns_values_ask =
    paste0("Sie kann Spalten mit Werten vergleichen (== != < <= > >= %in%), is.na(Spalte) ",
           "fragen und mit & | ! verbinden."),
  not_true_false_itself = "`%s` ist f\u00fcr sich weder wahr noch falsch.",
  compare_value_such_age_18 = "Vergleichen Sie es mit einem Wert, etwa `age >= 18`.",
  answers_no_order_says_nothing =
    "Die Antworten von \u201e%s\u201c haben keine Reihenfolge, daher sagt `%s` nichts.",
  use_equals_or_in = "Verwenden Sie == oder %in%.",
  cannot_compared = "`%s` und `%s` lassen sich nicht vergleichen.",
  dates_written_2030_12_31 = "Daten werden \"2030-12-31\" geschrieben.",
  number_text_cannot_compared =
    "`%s` ist eine Zahl und `%s` Text; sie lassen sich nicht vergleichen.",
  write_numbers_without_quotes_answers =
    "Schreiben Sie Zahlen ohne, Antworten mit Anf\u00fchrungszeichen.",
  compare_column_number_quoted_answer =
    paste0("Vergleichen Sie eine Spalte mit einer Zahl oder einer Antwort in ",
           "Anf\u00fchrungszeichen; mehrere geh\u00f6ren in %in% c(...)."),
  not_valid_factor_codes_without =
    paste0("\u201e%s\u201c ist kein g\u00fcltiger Faktor: Er hat Codes ohne ",
           "Auspr\u00e4gung, oder eine Auspr\u00e4gung zweimal."),
  create_again_factor = "Erzeugen Sie ihn neu mit factor().",
  no_column = "Es gibt keine Spalte \u201e%s\u201c (`%s`).",
  there_are_two_columns_named = "Es gibt zwei Spalten namens \u201e%s\u201c (`%s`).",
  numbers_but_column_holds_text =
    "`%s` m\u00fcssen Zahlen sein, die Spalte \u201e%s\u201c enth\u00e4lt aber Text.",
  convert_correct_column_first = "Wandeln Sie die Spalte zuerst um, oder berichtigen Sie sie.",
  finite_not_negative_but_not =
    "`%s` muss endlich und nicht negativ sein, \u201e%s\u201c ist es aber in %s nicht.",
  correct_values_make_missing_leave =
    paste0("Berichtigen Sie die Werte, oder setzen Sie sie auf fehlend, um diese ",
           "Datens\u00e4tze auszuschlie\u00dfen."),
  but_not_every_record = "`%s` muss %s sein, \u201e%s\u201c ist es aber nicht in jedem Datensatz.",
  count_whole_numbers_but_not =
    "`count` m\u00fcssen ganze Zahlen sein, \u201e%s\u201c ist es aber nicht in jedem Datensatz.",
  sampling_weight_goes_weight = "Ein Stichprobengewicht geh\u00f6rt zu `weight`.",
  numbers_but_column =
    "`%s` m\u00fcssen Zahlen sein, die Spalte \u201e%s\u201c ist aber vom Typ %s.",
  zero_missing_every_record_column =
    "`%s` ist in jedem Datensatz 0 oder fehlt (Spalte \u201e%s\u201c).",
  nobody_would_left_table_name = "In der Tabelle bliebe niemand: Nennen Sie eine andere Spalte.",
  count_below_2_53_where =
    paste0("`count` muss unter 2^53 liegen, ab wo nicht mehr jede ganze Zahl darstellbar ",
           "ist; Datensatz %d hat aber %s (Spalte \u201e%s\u201c)."),
  correct_value = "Berichtigen Sie den Wert.",
  different_answers = "\u201e%s\u201c hat %s verschiedene Antworten (%s).",
  table_more_rows_columns_not =
    "Eine Tabelle mit mehr als %d Zeilen oder Spalten wird nicht erstellt.",
  cut_number_into_bands_join =
    paste0("Teilen Sie eine Zahl in Klassen ein, oder fassen Sie die Antworten zusammen, ",
           "und fragen Sie noch einmal."),
  number_different_values = "\u201e%s\u201c ist eine Zahl mit %s verschiedenen Werten (%s bis %s).",
  values_codes_label_codebook = "Sind die Werte Codes, beschriften Sie sie in einem Codebuch.",
  name_one_column_not = "`%s` muss eine Spalte nennen, nicht `%s`.",
  give_bare_column_name_string =
    "Geben Sie einen blo\u00dfen Spaltennamen, einen Text, !!Variable oder .data[[\"Name\"]] an.",
  name_columns_not = "`%s` muss Spalten nennen, nicht `%s`.",
  give_c_first_second_strings =
    "Geben Sie c(erste, zweite), Texte oder ein Muster wie \"rep_*\" an.",
  no_column_named_like = "Keine Spalte hei\u00dft wie \u201e%s\u201c (`%s`).",
  argument_must_be_not = "`%s` muss %s sein, nicht %s.",
  column_no_answers_tabulate =
    "\u201e%s\u201c ist eine Spalte vom Typ %s, die keine Antworten zum Ausz\u00e4hlen hat.",
  turn_into_answers_first_dates =
    "Machen Sie zuerst Antworten daraus: bei Daten den Monat oder die Welle.",
  labels_cannot_read_each_code =
    paste0("Die Beschriftungen von \u201e%s\u201c k\u00f6nnen nicht gelesen werden: Jeder ",
           "Code braucht einen Namen, und keiner darf zweimal stehen."),
  give_c_yes_1_no =
    paste0("Geben Sie c(\"Ja\" = 1, \"Nein\" = 2) als Attribut \"labels\" an, oder machen ",
           "Sie einen Faktor daraus."),
  number_between_0_1_not = "`%s` muss eine Zahl zwischen 0 und 1 sein, nicht %s.",
  argument_must_be_number_of = "`%s` muss eine Zahl %s sein, nicht %s.",
  whole_number_least_not = "`%s` muss eine ganze Zahl von mindestens %s sein, nicht %s.",
  true_false_not = "`%s` muss TRUE oder FALSE sein, nicht %s.",
  must_come_from = "`%s` muss von %s stammen, nicht %s sein.",
  one_argument_too_many = "Es gibt ein Argument zu viel.",
  no_argument = "Es gibt kein Argument `%s`.",
  records_changed_while_read_then =
    "Die Datens\u00e4tze haben sich beim Lesen ge\u00e4ndert: Es waren %s, und dann %s.",
  ask_again_later = "Fragen Sie noch einmal, wenn niemand hineinschreibt.",
  there_are_no_records = "Es gibt keine Datens\u00e4tze.",
  sums_do_not_add_up =
    paste0("Die Summen passen nicht zusammen: Die der Gewichte und die ihrer Quadrate ",
           "k\u00f6nnen nicht von denselben Datens\u00e4tzen sein."),
  rounded_go_beyond_what_numbers =
    "Sie wurden gerundet, oder sie \u00fcbersteigen, was die Zahlen der Quelle fassen.",
  option_fairlattice_not = "Die Option `fairlattice.%s` muss %s sein, nicht %s.",
  replicates_name_two_columns_more = "`replicates` muss zwei oder mehr Spalten nennen, nicht %d.",
  fay_factor_fay_these_replicates =
    "`fay` ist der Faktor von \"fay\", und diese Replikationen sind \"%s\".",
  replicate_scale_jkn_bootstrap_coefficients_known =
    paste0("`replicate_scale` geh\u00f6rt zu \"jkn\" und \"bootstrap\": Die Koeffizienten ",
           "von \"%s\" sind bekannt."),
  fay_needs_factor_fay_share =
    "\"fay\" braucht seinen Faktor: `fay`, einen Anteil zwischen 0 und 1.",
  jkn_needs_coefficient_per_replicate =
    "\"jkn\" braucht einen Koeffizienten je Replikation: `replicate_scale`.",
  comes_weights_often_1_stratum = "Er kommt mit den Gewichten, oft (a - 1)/a der Schicht.",
  replicate_scale_one_coefficient_not_negative =
    "`replicate_scale` muss ein Koeffizient sein, oder %d davon, nicht negativ.",
  bootstrap_only_how_many_follows =
    "`%s` geh\u00f6rt nur zu \"bootstrap\": Wie viele \"%s\" hat, folgt aus dem Stichprobenplan.",
  fay_share_under_1_brr = "`fay` ist ein Anteil unter 1 und geh\u00f6rt nur zu \"brr\".",
  leaving_out_one_respondent_time = "Das Weglassen einzelner Befragter",
  survey_replicate_weights_already = "Diese Umfrage hat schon Replikationsgewichte.",
  replicates_clusters_too_many_keep =
    "%s Replikationen von %s Klumpen sind zu viele, um sie zu behalten.",
  ask_bootstrap_fewer_replicates_name =
    "W\u00e4hlen Sie einen Bootstrap mit weniger Replikationen, oder nennen Sie Klumpen.",
  balanced_half_samples_need_two =
    paste0("Ausgewogene Halbstichproben brauchen zwei Klumpen in jeder Schicht, Schicht ",
           "\u201e%s\u201c hat aber %d."),
  join_split_strata_use_jackknife =
    "Verbinden oder teilen Sie Schichten, oder verwenden Sie \"jackknife\" oder \"bootstrap\".",
  records_stand_several_respondents_count =
    paste0("Datens\u00e4tze, die f\u00fcr mehrere Befragte stehen (`count`), lassen sich ",
           "nicht je Person weglassen."),
  name_clusters_give_one_record =
    "Nennen Sie Klumpen, oder geben Sie je Person einen Datensatz an.",
  data_data_frame_not = "`data` muss ein Data Frame sein, nicht %s.",
  data_no_records = "`data` hat keine Datens\u00e4tze.",
  replicate_weights_name_their_columns =
    "`%s` betrifft Replikationsgewichte: Nennen Sie deren Spalten mit `replicates`.",
  replicates_both_given_but_replicate =
    paste0("`replicates` und `%s` sind beide angegeben, Replikationsgewichte tragen aber ",
           "den Stichprobenplan."),
  name_one_other = "Nennen Sie das eine oder das andere.",
  population_numbers = "`population` m\u00fcssen Zahlen sein.",
  population_one_number_stratum_but =
    "`population` muss eine Zahl je Schicht sein, %s hat aber %s.",
  population_fewer_sampled =
    "`population` von %s ist %s, weniger als die %s, die dort gezogen wurden.",
  population_counts = "Es z\u00e4hlt %s.",
  one_cluster_only = "%s nur einen Klumpen: %s.",
  join_each_stratum_like_choose =
    paste0("Verbinden Sie jede mit einer \u00e4hnlichen Schicht, oder w\u00e4hlen Sie ",
           "single_cluster = \"centre\" oder \"zero\"."),
  no_respondents_left_every_record =
    "Es bleiben keine Befragten: Jedem Datensatz fehlt Gewicht, Schicht, Klumpen oder Anzahl.",
  look_columns_named = "Sehen Sie die genannten Spalten an.",
  data_no_columns = "Die Daten haben keine Spalten.",
  data_column_has_no_name = "Spalte %d der Daten hat keinen Namen.",
  give_every_column_name = "Geben Sie jeder Spalte einen Namen.",
  column_single_values_but =
    "`%s` muss eine Spalte einzelner Werte sein, \u201e%s\u201c ist aber vom Typ %s.",
  needs_every_record_itself_these =
    "%s braucht jeden einzelnen Datensatz, und diese bleiben, wo sie sind.",
  read_into_memory_first_give =
    "Lesen Sie sie zuerst in den Speicher, und geben Sie den Data Frame an respondents().",
  one_every_combination_cluster_answers =
    "Es gibt eine f\u00fcr jede vorkommende Kombination von Klumpen, Antworten und anderen Werten.",
  name_clusters_hold_many_records =
    paste0("Nennen Sie Klumpen mit vielen Datens\u00e4tzen, teilen Sie Zahlen in Klassen ",
           "ein, fragen Sie nach weniger Fragen auf einmal, oder erh\u00f6hen Sie ",
           "`most_groups`."),
  must_name_question = "`%s` muss eine Frage nennen.",
  asked_twice = "\u201e%s\u201c ist zweimal verlangt: als `%s` und als `%s`.",
  question_against_itself_says_nothing =
    "Eine Frage gegen sich selbst sagt nichts: Nennen Sie eine andere.",
  column_cannot_too = "\u201e%s\u201c ist die Spalte %s und kann daher nicht auch `%s` sein.",
  name_a_question = "Nennen Sie eine Frage.",
  tallies_different_questions_one_other =
    paste0("Die Ausz\u00e4hlungen sind von verschiedenen Fragen: `%s` ist %s in der einen ",
           "und %s in der anderen."),
  tallies_replicates_made_design_cannot =
    "Ausz\u00e4hlungen mit Replikationen aus dem Stichprobenplan lassen sich nicht addieren.",
  add_tallies_first_give_replicate =
    paste0("Addieren Sie zuerst die Ausz\u00e4hlungen; oder geben Sie Replikationsgewichte ",
           "als Spalten an."),
  tallies_different_designs_one_weight =
    paste0("Die Ausz\u00e4hlungen haben verschiedene Stichprobenpl\u00e4ne: Die eine hat ",
           "Gewicht, Schicht oder Klumpen, die der anderen fehlen."),
  tallies_different_items = "Die Ausz\u00e4hlungen haben verschiedene Punkte in \u201e%s\u201c.",
  did_you_mean_column = "Meinten Sie die Spalte \u201e%s\u201c?",
  must_hold_keys = "%s muss Schl\u00fcssel mit Werten enthalten, nicht %s.",
  there_is_no_key = "Es gibt keinen Schl\u00fcssel \u201e%s\u201c%s.",
  within_key = " in \u201e%s\u201c",
  lacks_key = "In %s fehlt der Schl\u00fcssel \u201e%s\u201c.",
  step_one_verb_keys_not = "Ein Schritt muss ein Verb mit seinen Schl\u00fcsseln sein, nicht %s.",
  no_step = "Es gibt keinen Schritt \u201e%s\u201c.",
  base_says_who_among_keeps_needs =
    "\u201ebase\u201c sagt, wen \u201eamong\u201c beh\u00e4lt, und braucht es daher.",
  pooled_takes_tables_each_together =
    "\u201epooled\u201c fasst die Tabellen von \u201eeach\u201c zusammen und braucht es daher.",
  paired_needs_one_question_across = "\u201epaired\u201c braucht eine Spaltenfrage.",
  title_one_table_several_questions =
    "\u201etitle\u201c ist f\u00fcr eine Tabelle, und hier stehen mehrere Fragen.",
  no_question_named_like = "Keine Frage hei\u00dft wie \u201e%s\u201c.",
  no_question = "Es gibt keine Frage \u201e%s\u201c.",
  shares_one_question_without_one = "\u201eshares\u201c sind von einer Frage ohne Spaltenfrage.",
  there_is_no_share = "F\u00fcr \u201e%s\u201c gibt es keinen Anteil.",
  odd_value_on_line = "Zeile %s von \u201e%s\u201c hat \u201e%s\u201c.",
  column_is_gone = "ist nicht mehr da",
  column_of_another_kind = "ist von anderer Art",
  database_would_send_rows_table =
    "Die Datenbank w\u00fcrde f\u00fcr diese Tabelle %s Zeilen schicken, mehr als %s.",
  reading_process_ended = "Der Prozess, der die Datenbank gefragt hat, ist beendet.",
  reader_format_broke_down = "Das Leseprogramm dieses Formats ist daran gescheitert.",
  a_workbook = "eine Arbeitsmappe",
  a_parquet_file = "eine Parquet-Datei",
  more_groups_records_would_kept =
    "F\u00fcr diese Tabelle m\u00fcssten mehr als %s Gruppen von Datens\u00e4tzen behalten werden.",
  whole_gzip_file_one_part = "eine vollst\u00e4ndige gzip-Datei mit einem Teil",
  is_whole = "vollst\u00e4ndig",
  numbers_not_those_written = "Die Zahlen von \u201e%s\u201c sind nicht die geschriebenen.",
  changed_damaged_after_written_get =
    paste0("Die Datei wurde nach dem Schreiben ge\u00e4ndert oder besch\u00e4digt: Holen ",
           "Sie sie noch einmal von ihrer Quelle."),
  does_not_add_up = "\u201e%s\u201c geht nicht auf: %s.",
  number_respondents_not_whole_number = "eine Zahl von Befragten ist keine ganze Zahl",
  weighted_number_below_0 = "eine gewichtete Zahl liegt unter 0",
  effective_base_degrees_freedom_beyond =
    "eine effektive Basis oder Freiheitsgrade liegen au\u00dferhalb ihres Bereichs",
  records_table_those_left_out =
    "die Datens\u00e4tze der Tabelle und die ausgeschlossenen sind nicht alle",
  cells_do_not_sum_totals = "die Zellen ergeben nicht die Summen von \u201e%s\u201c",
  totals_do_not_sum_base = "die Summen von \u201e%s\u201c ergeben nicht die Basis",
  standard_error_not_cv = "Standardfehler und Variationskoeffizienten (%s) stimmen nicht \u00fcberein",
  total_not_within_interval = "eine Hochrechnung liegt au\u00dferhalb ihres Intervalls",
  design_effect_not_variance = "Designeffekte (%s) sind nicht die der Standardfehler",
  percentage_lies_outside_interval = "ein Prozentwert (%s) liegt au\u00dferhalb seines Intervalls",
  percentage_not_base = "ein Prozentwert (%s) ist nicht der seiner Basis",
  total_percentage_not_base = "der Prozentwert einer Summe ist nicht der ihrer Basis",
  expected_count_p_value_beyond =
    "eine erwartete H\u00e4ufigkeit oder ein p-Wert liegt au\u00dferhalb des Bereichs",
  residual_does_not_follow_expected =
    "ein Residuum folgt nicht aus seiner erwarteten H\u00e4ufigkeit",
  contribution_statistic_does_not_follow =
    "ein Beitrag zur Statistik folgt nicht aus seinem Residuum",
  corrected_p_value_below_plain = "ein korrigierter p-Wert liegt unter dem einfachen",
  adjusted_residual_sign_another = "ein adjustiertes Residuum hat das Vorzeichen eines anderen",
  cell_p_value_does_not = "der p-Wert einer Zelle folgt nicht aus ihrem Residuum",
  mark_does_not_follow_residual = "eine Markierung folgt nicht aus ihrem Residuum",
  share_statistic_does_not_follow = "ein Anteil an der Statistik folgt nicht aus seinem Beitrag",
  expected_count_residual_do_not =
    "eine erwartete H\u00e4ufigkeit und ihr Residuum ergeben nicht die Anzahl",
  test_p_value_degrees_freedom =
    "p-Wert oder Freiheitsgrade eines Tests liegen au\u00dferhalb ihres Bereichs",
  test_p_value_does_not = "der p-Wert eines Tests folgt nicht aus seiner Statistik",
  measure_interval_beyond_range =
    "das Ma\u00df \u201e%s\u201c oder sein Intervall liegt au\u00dferhalb seines Bereichs",
  measure_not_counts = "das Ma\u00df \u201e%s\u201c ist nicht das der Anzahlen",
  record_has_text = "Datensatz %d hat \u201e%s\u201c.",
  record_has = "Datensatz %d hat %s.",
  is_text_in = "%s %s-Text.",
  cut_into_bands_by_option = "Teilen Sie sie in Klassen ein, etwa --band '%s=%s'.",
  cut_into_bands_on_desk =
    paste0("Teilen Sie sie in Klassen ein: W\u00e4hlen Sie sie in der Liste, dr\u00fccken ",
           "Sie \u201eIhre Antworten\u201c, dann %s."),
  cut_into_bands_in_r =
    paste0("Teilen Sie sie in Klassen ein, etwa band(x, %s, breaks = c(%s)); oder setzen ",
           "Sie options(fairlattice.most_values = %d), um jeden Wert auszuz\u00e4hlen."),
  where_it_was = ", wo `%s` %s war",
  in_one_of_them_only = ": \u201e%s\u201c steht nur in einer von beiden",
  in_the_same_order = " in derselben Reihenfolge",
  too_long_condition = ": sie hat mehr als %s Zeichen",
  not_held_exactly = ", die genau darstellbar w\u00e4re (ab 2^53 nicht mehr)",
  multiply_column = "Ihre Summen sind nicht genau: Multiplizieren Sie die Spalte zuerst.",
  divide_column = "Ihre Summen sind nicht genau: Dividieren Sie die Spalte zuerst.",
  zero_or_at_least = "0 oder mindestens %s",
  at_most = "h\u00f6chstens %s",
  holds_no_part = "Sie enth\u00e4lt kein %s.",
  weights_did_not_settle =
    paste0("Die Gewichte kamen nicht zur Ruhe: Nach %d Runden liegt ein Anteil noch %s ",
           "neben seiner Vorgabe."),
  loosen_limits =
    "Lockern Sie `limits`, fassen Sie kleine Antworten zusammen, oder geben Sie mehr `rounds` an.",
  scores_must_be =
    paste0("`scores` muss %s sein, oder eine Liste aus `down` und `across` mit einer Zahl ",
           "f\u00fcr jede Antwort."),
  least_value_is = "Der kleinste Wert ist %s.",
  in_file_on_line = "%s, Zeile %d: %s",
  in_file = "%s: %s",
  known.known = "Bekannt: %s.",
  known.chapters = "Kapitel und Fragen: %s.",
  known.across = "Spaltenfragen: %s.",
  known.questions = "Fragen: %s.",
  known.answers = "Antworten: %s.",
  known.arguments = "Argumente: %s.",
  known.columns = "Spalten: %s.",
  known.commands = "Befehle: %s.",
  known.databases = "Datenbanken: %s.",
  known.keys = "Schl\u00fcssel: %s.",
  known.measures = "Ma\u00dfe: %s.",
  known.options = "Optionen: %s.",
  known.sections = "Abschnitte: %s.",
  known.shares = "Anteile: %s.",
  known.sheets = "Bl\u00e4tter: %s.",
  known.steps = "Schritte: %s.",
  known.tables = "Tabellen: %s.",
  known.tests = "Tests: %s.",
  known.verbs = "Verben: %s.",
  or_last = "%s oder %s",
  some_of = "einige von %s",
  thing_of_length = "%s der L\u00e4nge %d",
  range_between = "zwischen %s und %s",
  range_at_least = "von mindestens %s",
  counted.record = c("%s Datensatz", "%s Datens\u00e4tze"),
  counted.second = c("%s Sekunde", "%s Sekunden"),
  counted.cell = c("%s Zelle", "%s Zellen"),
  counted.fault = c("%s Fehler", "%s Fehler"),
  counted.stratum_has = c("%s Schicht hat", "%s Schichten haben"),
  counted.record_has = c("%s Datensatz hat", "%s Datens\u00e4tze haben"),

  # ---- parts of sentences ----
  to_read_plan = "einen Tabellenplan zu lesen",
  to_draw_figure = "eine Abbildung zu zeichnen",
  to_draw_figure_or_none = "eine Abbildung zu zeichnen (oder verlangen Sie figure = \"none\")",
  to_open_desk = "den Tabellentisch zu \u00f6ffnen",
  to_write_plan = "einen Tabellenplan zu schreiben",
  to_read_yaml_codebook = "ein Codebuch in YAML zu lesen",
  to_read_xml_codebook = "ein Codebuch in XML zu lesen",
  to_read_connection = "eine Verbindungsdatei zu lesen",
  to_read_database = "aus einer Datenbank zu lesen",
  to_read_lazy_table = "eine Tabelle von dplyr zu lesen, die noch eine Abfrage ist",
  to_read_database_of = "aus %s zu lesen",
  to_read_workbook = "eine Arbeitsmappe (.xlsx) zu lesen",
  to_read_safely = "Arbeitsmappen und Parquet-Dateien sicher zu lesen",
  to_read_ods = "ein OpenDocument-Tabellenblatt (.ods) zu lesen",
  to_read_parquet = "eine Parquet-Datei zu lesen",
  to_write_parquet = "eine Parquet-Datei zu schreiben",
  to_read_style = "einen Hausstil zu lesen",
  to_read_tables = "Tabellen aus einem Dokument zu lesen",
  to_knit = "eine Tabelle in einen Bericht zu setzen",
  to_write_slides = "Folien zu schreiben",
  to_write_word = "ein Word-Dokument zu schreiben",
  to_write_workbook = "eine Arbeitsmappe zu schreiben",
  kind_text = "ein Text",
  kind_texts = "ein Text oder eine Liste von Texten",
  kind_number = "eine Zahl",
  kind_numbers = "eine Zahl oder eine Liste von Zahlen",
  kind_flag = "true oder false",
  kind_text_or_flag = "true, false oder ein Text",
  kind_named_texts = "Namen mit je einem Text oder einer Liste von Texten",
  kind_named_text = "Namen mit je einem Text",
  target_levels =
    "Das Ziel \u201e%s\u201c braucht eine Zahl unter je einer Antwort auf jede seiner Fragen.",
  kind_targets = "Fragen mit einer Zahl je Antwort",
  kind_named_numbers = "Namen mit je einer Zahl",
  kind_numbers_by_name = "eine Zahl oder Namen mit je einer Zahl",
  kind_list_or_names = "eine Liste von Zahlen oder Namen mit je einer Zahl",
  kind_shares = "\"equal\" oder Antworten mit je einem Anteil",
  must_font = "der Name einer Schriftart",
  must_colour = "eine Farbe, etwa \"#005a6e\"",
  must_colours = "eine Liste von Farben, etwa [\"#005a6e\", \"#b06a00\"]",
  must_decimals = "eine ganze Zahl von 0 bis 15",
  must_size = "eine Zahl von 6 bis 30",
  must_other_mark = "ein anderes als das Dezimalzeichen",
  must_true_or_false = "TRUE oder FALSE",
  must_fraction = "eine Zahl zwischen 0 und 1",
  must_not_negative = "eine Zahl, nicht negativ",
  must_mapping = "Schl\u00fcssel mit Werten",
  must_list = "eine Liste",
  must_empty_list = "eine leere Liste",
  must_between_0_and_1 = "zwischen 0 und 1",
  must_from_0 = "0 oder mehr",
  must_whole_zip = "eine vollst\u00e4ndige Zip-Datei",
  must_zip = "eine Zip-Datei",
  must_ods = "ein OpenDocument-Tabellenblatt",
  must_workbook_with_sheet = "eine Arbeitsmappe, deren Blatt \u201e%s\u201c gelesen werden kann",
  zip_name_zero_byte = "Ein Name darin enth\u00e4lt ein Null-Byte.",
  zip_size_differs = "Entpackt sind es %s Bytes, angegeben sind %s.",
  zip_checksum_differs = "Die Pr\u00fcfsumme stimmt nicht.",
  known_values = "Bekannte Werte: %s.",
  codebook_says_integer = "Laut Codebuch ist \u201e%s\u201c eine ganze Zahl.",
  codebook_says_number = "Laut Codebuch ist \u201e%s\u201c eine Zahl.",
  on_records = ": Datens\u00e4tze %s",
  on_lines = ": Zeilen %s",
  base_not_of_table = "die Basis (%s) ist nicht die der Tabelle",
  net_not_sum = "ein Netto oder eine Summe ist nicht die Summe der Antworten",
  in_stratum = "Schicht \u201e%s\u201c",
  in_population = "die Grundgesamtheit",
  bytes_written = "%s von %s Bytes konnten geschrieben werden",
  a_battery = "eine Aussagenbatterie",
  battery_two_statements =
    "Eine Aussagenbatterie braucht mindestens zwei Aussagen.",
  battery_other_answer =
    paste0("\u201e%s\u201c hat die Antwort \u201e%s\u201c, die es ",
           "bei \u201e%s\u201c nicht gibt."),
  battery_regroup_first =
    paste0("Geben Sie den Antworten zuerst mit regroup() gleiche ",
           "Namen."),
  battery_stands_alone =
    paste0("Die Aussagenbatterie \u201e%s\u201c steht im ",
           "Tabellenrand, ohne Frage im Kopf."),
  battery_statement_by_itself =
    paste0("Stellen Sie eine ihrer Aussagen der anderen Frage ",
           "gegen\u00fcber."),
  battery_a_record_a_person =
    paste0("Eine Aussagenbatterie braucht einen Datensatz je ",
           "befragter Person: diese stehen f\u00fcr mehrere ",
           "(`count`).")
)
