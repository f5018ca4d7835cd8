# Answers that look ordered: scales that many questionnaires use, bands of numbers,
# and numbers inside labels. Nothing is ordered by this alone: a draft of a codebook
# proposes it, and a table says that it may be so.

# Each from one end to the other; what is written differently stands side by side.
scales_known <- list(
  agreement = c(
    "strongly agree|agree strongly|completely agree|fully agree|totally agree", "agree",
    "tend to agree|rather agree|mostly agree",
    "somewhat agree|slightly agree|agree slightly|agree somewhat",
    "neither agree nor disagree|neither|neither nor|neutral|undecided|unsure",
    "somewhat disagree|slightly disagree|disagree slightly|disagree somewhat",
    "tend to disagree|rather disagree|mostly disagree", "disagree",
    paste0("strongly disagree|disagree strongly|completely disagree|fully disagree|",
           "totally disagree")),
  zustimmung = c(
    paste0("stimme voll und ganz zu|stimme voll zu|stimme v\u00f6llig zu|",
           "trifft voll und ganz zu|trifft voll zu"),
    "stimme zu|trifft zu", "stimme eher zu|trifft eher zu",
    "teils, teils|teils teils|teils/teils|weder noch|unentschieden",
    "stimme eher nicht zu|trifft eher nicht zu", "stimme nicht zu|trifft nicht zu",
    paste0("stimme \u00fcberhaupt nicht zu|stimme gar nicht zu|",
           "trifft \u00fcberhaupt nicht zu|trifft gar nicht zu")),
  satisfaction = c(
    "completely satisfied|extremely satisfied", "very satisfied", "satisfied",
    "fairly satisfied|somewhat satisfied|rather satisfied",
    "neither satisfied nor dissatisfied|neither|neutral",
    "fairly dissatisfied|somewhat dissatisfied|rather dissatisfied",
    "dissatisfied|not satisfied", "very dissatisfied|not at all satisfied",
    "completely dissatisfied|extremely dissatisfied"),
  zufriedenheit = c(
    "sehr zufrieden", "zufrieden", "eher zufrieden", "teils, teils|teils teils|weder noch",
    "eher unzufrieden", "unzufrieden", "sehr unzufrieden"),
  favour = c(
    "strongly in favour|strongly in favor|strongly support", "in favour|in favor|for|support",
    "undecided|neither|neutral", "against|oppose", "strongly against|strongly oppose"),
  quality = c(
    "outstanding", "excellent", "very good|vgood", "good", "satisfactory",
    "fair|average|neither good nor poor|neither good nor bad", "poor", "bad", "very poor",
    "very bad"),
  guete = c(
    "ausgezeichnet|hervorragend", "sehr gut", "gut",
    "befriedigend|mittelm\u00e4\u00dfig|mittel", "ausreichend", "schlecht|mangelhaft",
    "sehr schlecht|ungen\u00fcgend"),
  frequency = c(
    "always", "almost always|nearly always", "very often", "often|frequently", "usually",
    "regularly", "sometimes|occasionally|now and then", "rarely|seldom", "very rarely",
    "hardly ever|almost never", "never"),
  haeufigkeit = c(
    "immer", "fast immer", "sehr oft|sehr h\u00e4ufig", "oft|h\u00e4ufig",
    "regelm\u00e4\u00dfig", "manchmal|gelegentlich|ab und zu", "selten", "sehr selten",
    "fast nie", "nie|niemals"),
  intervals = c(
    "several times a day", "daily|every day", "almost every day|nearly every day",
    "several times a week|more than once a week", "weekly|once a week|every week",
    "fortnightly|every two weeks", "several times a month", "monthly|once a month|every month",
    "quarterly", "several times a year", "yearly|once a year|every year|annually",
    "less often|less frequently", "never"),
  abstaende = c(
    "mehrmals t\u00e4glich", "t\u00e4glich|jeden Tag", "fast t\u00e4glich",
    "mehrmals pro Woche|mehrmals in der Woche", "w\u00f6chentlich|einmal pro Woche",
    "mehrmals im Monat", "monatlich|einmal im Monat", "mehrmals im Jahr",
    "j\u00e4hrlich|einmal im Jahr", "seltener", "nie|niemals"),
  likelihood = c(
    "certain|definitely", "very likely|very probably|almost certain", "likely|probably",
    "fairly likely|somewhat likely",
    "neither likely nor unlikely|possibly|perhaps|maybe|neither",
    "fairly unlikely|somewhat unlikely", "unlikely|not likely|probably not",
    "very unlikely|very improbable", "not at all likely|definitely not"),
  wahrscheinlichkeit = c(
    "sicher|bestimmt", "sehr wahrscheinlich", "wahrscheinlich", "eher wahrscheinlich",
    "vielleicht|m\u00f6glicherweise", "eher unwahrscheinlich", "unwahrscheinlich",
    "sehr unwahrscheinlich", "sicher nicht|bestimmt nicht"),
  importance = c(
    "extremely important|essential", "very important", "important",
    "fairly important|quite important|somewhat important|rather important",
    "neither important nor unimportant", "slightly important",
    "not very important|of little importance", "unimportant|not important",
    "not at all important"),
  wichtigkeit = c(
    "sehr wichtig", "wichtig", "eher wichtig", "teils, teils|weder noch",
    "eher unwichtig|weniger wichtig", "unwichtig|nicht wichtig",
    "sehr unwichtig|\u00fcberhaupt nicht wichtig|gar nicht wichtig"),
  amount = c(
    "extremely", "a great deal|very much|a lot|completely|very",
    "a fair amount|quite a lot|quite a bit|fairly|much|quite|mostly|rather",
    "some|somewhat|moderately|to some extent|partly",
    "a little|slightly|a bit|not much|not very much|little|not very",
    "hardly at all|hardly any|very little", "not at all|none|nothing|none at all"),
  menge = c(
    "sehr viel|sehr stark|sehr", "viel|stark|ziemlich|eher",
    "etwas|mittelm\u00e4\u00dfig|teilweise|teils", "wenig|ein wenig|kaum|eher nicht",
    "sehr wenig", "gar nicht|\u00fcberhaupt nicht|keine|nichts"),
  concern = c(
    "extremely worried|extremely concerned", "very worried|very concerned",
    "worried|concerned", "fairly worried|fairly concerned|somewhat worried|somewhat concerned",
    "not very worried|not very concerned|a little worried",
    "not at all worried|not at all concerned|not worried"),
  level = c(
    "very low", "low", "below average", "medium|middle|moderate|average", "above average",
    "high", "very high"),
  stufe = c(
    "sehr niedrig|sehr gering", "niedrig|gering", "mittel", "hoch", "sehr hoch"),
  size = c(
    "very small|tiny|extra small", "small", "medium|middle|medium-sized", "large|big",
    "very large|huge|extra large"),
  groesse = c(
    "sehr klein", "klein", "mittel|mittelgro\u00df", "gro\u00df", "sehr gro\u00df"),
  change = c(
    "much better|improved a lot", "better|somewhat better|a little better|improved",
    "about the same|the same|unchanged|no change", "worse|somewhat worse|a little worse",
    "much worse"),
  aenderung = c(
    "viel besser", "besser|etwas besser", "gleich|unver\u00e4ndert",
    "schlechter|etwas schlechter", "viel schlechter"),
  education = c(
    "no education|no schooling|no formal education|none",
    "primary|primary school|primary education|elementary|elementary school|8th grade",
    paste0("lower secondary|some high school|middle school|9 - 11th grade|9-11th grade|",
           "9th-11th grade"),
    paste0("secondary|secondary school|secondary education|upper secondary|high school|",
           "high school graduate|high school diploma"),
    "vocational|vocational training|apprenticeship|technical", "some college|some university",
    "college|associate degree|associate's degree",
    paste0("college grad|college graduate|bachelor|bachelor's|bachelor's degree|",
           "undergraduate degree|degree|university|university degree|tertiary|",
           "higher education"),
    "master|master's|master's degree|postgraduate|graduate degree|graduate school",
    "doctorate|phd|doctoral degree"),
  bildung = c(
    "kein abschluss|ohne abschluss|keine schulbildung", "grundschule|volksschule",
    "hauptschule|hauptschulabschluss|pflichtschule",
    "realschule|realschulabschluss|mittlere reife|mittlerer abschluss",
    "lehre|berufsausbildung|berufsschule|fachschule", "fachhochschulreife|fachabitur",
    "abitur|matura|hochschulreife", "bachelor|fachhochschule",
    "hochschule|universit\u00e4t|master|diplom|hochschulabschluss|studium",
    "promotion|doktorat"))

# The place of every answer of a scale, by what it is called.
scale_ranks <- lapply(scales_known, function(scale) {
  steps <- strsplit(tolower(scale), "|", fixed = TRUE)
  stats::setNames(rep(seq_along(steps), lengths(steps)), unlist(steps))
})

on_scales <- unique(unlist(lapply(scale_ranks, names)))

# The answers in the order that they seem to have; NULL where they seem to have
# none. Two answers are in some order always, and are never taken for a scale.
likely_order <- function(answers) {
  if (length(answers) < 3L) return(NULL)
  # signs that are none have no small letters, and are on no scale
  if (any(grepl("\ufffe", answers, fixed = TRUE) | grepl("\uffff", answers, fixed = TRUE)))
    return(NULL)
  text <- tolower(trimws(gsub("\\s+", " ", gsub("\u2019", "'", answers))))
  rank <- rank_in_scales(text) %||% rank_by_numbers(text)
  if (!is.null(rank)) answers[order(rank)]
}

rank_in_scales <- function(text) {
  if (anyNA(match(text, on_scales))) return(NULL) # most questions are on none
  for (ranks in scale_ranks) {
    rank <- unname(ranks[match(text, names(ranks))])
    if (!anyNA(rank) && !anyDuplicated(rank)) return(rank)
  }
  NULL
}

# Bands ("18-24", "65 and over", "under 18", "20,000 to 29,999") and labels with a
# number inside ("Grade 3", "2 children"), by where they begin. Numbers alone are in
# their order anyway.
rank_by_numbers <- function(text) {
  if (sum(grepl("[0-9]", text)) < 2L) return(NULL)
  whole <- gsub("(?<=[0-9])[ ,.'](?=[0-9]{3}(?![0-9]))", "", text, perl = TRUE)
  first <- regmatches(whole, regexpr("[0-9]+([.][0-9]+)?", whole))
  nothing <- grepl("^(none|no |never|keine?|nie)\\b", text)
  with_number <- grepl("[0-9]", whole)
  if (!all(with_number | nothing)) return(NULL)
  if (all(grepl("^[-+]?[0-9.,]+$", text))) return(NULL)
  value <- rep(-1, length(text))
  value[with_number] <- as.numeric(first)
  thousands <- grepl("[0-9] ?(k|tsd|thousand|tausend)\\b", whole)
  value[thousands] <- value[thousands] * 1000
  # apart from the number the labels must be alike, or say where a band ends
  rest <- gsub("[0-9]+([.][0-9]+)?", "#", whole)
  unsigned <- gsub("[-\u2013\u2014+<>\u2264\u2265$\u20ac\u00a3,]", " ", rest)
  bare <- trimws(gsub(band_words, "", unsigned))
  bare <- gsub("[# ]+", " ", bare)
  # one word in the singular and the plural: child, children
  if (length(unique(substr(trimws(bare[with_number]), 1L, 4L))) > 1L) return(NULL)
  under <- grepl(paste0("\\b(under|below|less|fewer|up to|younger|unter|bis zu|weniger)\\b|",
                        "^ *[<\u2264]|^bis\\b"), whole)
  over <- grepl("\\b(over|above|more than|\u00fcber|mehr als)\\b|^ *>", whole) &
    !grepl("and over|und \u00e4lter|or over", whole)
  rank <- value - 0.5 * under + 0.5 * over
  if (!anyDuplicated(rank)) rank
}

band_words <- paste0("\\b(", paste(c(
  "under", "below", "less", "fewer", "than", "up", "to", "or", "and", "over", "more", "above",
  "older", "younger", "from", "between", "unter", "bis", "zu", "und", "oder", "mehr", "weniger",
  "als", "\u00e4lter", "\u00fcber", "von", "zwischen", "k", "thousand", "tsd", "tausend", "th",
  "st", "nd", "rd", "none", "no", "never", "keine?", "nie"), collapse = "|"), ")\\b")
