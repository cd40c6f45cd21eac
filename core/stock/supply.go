package stock

import (
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"epitome/core/maybe"
	"epitome/core/pattern"
)

// What lists say of what is to be had, in the languages that titles are read in; each is matched within the cell, the
// ones that tell of nothing first ("not in stock" holds "in stock").
var (
	goneWords = strings.Split("sold out|out of stock|not in stock|not available|unavailable|no stock|none left|"+
		"on order|backorder|back order|pre order|preorder|discontinued|end of life|eol|expected|awaiting|"+
		"ausverkauft|nicht lieferbar|nicht verfügbar|nicht auf lager|nicht vorrätig|vergriffen|auf bestellung|"+
		"bestellt|nachbestellt|auslaufartikel|eingestellt|épuisé|rupture|indisponible|pas en stock|sur commande|"+
		"arrêté|agotado|sin stock|sin existencias|no disponible|bajo pedido|descatalogado|esgotado|indisponível|"+
		"sem estoque|sob encomenda|descontinuado|esaurito|non disponibile|su ordinazione|fuori produzione|"+
		"uitverkocht|niet op voorraad|niet leverbaar|op bestelling|slutsåld|slut i lager|ej i lager|"+
		"beställningsvara|utgått|udsolgt|utsolgt|ikke på lager|brak|niedostępny|wyprzedane|na zamówienie|"+
		"wycofany|vyprodáno|není skladem|nedostupné|na objednávku|ukončeno|нет в наличии|нет|под заказ|"+
		"распродано|снят с производства|ожидается|tükendi|stokta yok|mevcut değil|yok|在庫なし|在庫切れ|品切れ|売り切れ|取り寄せ|"+
		"入荷待ち|販売終了|缺货|无货|售罄|停产|预订|sold", "|")
	// What descriptions say of it: fewer words, as "no" and "none" there speak of check bits.
	goneInText = strings.Split("sold|sold out|out of stock|not in stock|not available|unavailable|discontinued|reserved|"+
		"verkauft|ausverkauft|nicht lieferbar|nicht verfügbar|vergriffen|reserviert|vendu|épuisé|en rupture|réservé|"+
		"vendido|agotado|reservado|esgotado|venduto|esaurito|riservato|verkocht|uitverkocht|gereserveerd|såld|slutsåld|"+
		"reserverad|solgt|udsolgt|utsolgt|sprzedane|wyprzedane|zarezerwowane|prodáno|vyprodáno|rezervováno|продано|"+
		"распродано|нет в наличии|забронировано|satildi|tükendi|在庫なし|在庫切れ|品切れ|売り切れ|売約済|缺货|无货|售罄|已售", "|")
	lastInText = strings.Split("last one|last piece|last item|only one left|letztes stück|letzter|dernière pièce|"+
		"último|ultimo pezzo|laatste stuk|sista|ostatnia sztuka|ostatnia|poslední kus|последний|последняя|"+
		"son adet|残り1|仅剩1", "|")
	fewWords = strings.Split("last one|last piece|last item|low stock|few left|only a few|few|limited|"+
		"letztes stück|letzte|wenige|geringer bestand|knapp|dernier|dernière pièce|peu|último|última|pocas|"+
		"pocos|poucas|ultimo|ultimi|pochi|laatste|weinig|sista|få kvar|få|ostatnia|ostatni|mało|poslední|málo|"+
		"последний|мало|son|az|残りわずか|残り僅か|少量|最后|仅剩", "|")
	hereWords = strings.Split("in stock|on stock|available|yes|ready|plenty|many|auf lager|lagernd|vorrätig|"+
		"lieferbar|verfügbar|ja|en stock|disponible|oui|en existencia|hay|sí|si|em estoque|disponível|sim|"+
		"disponibile|in magazzino|op voorraad|leverbaar|voorradig|i lager|på lager|finns|tak|dostępny|dostępne|"+
		"w magazynie|na stanie|skladem|ano|в наличии|есть|да|много|stokta|mevcut|var|evet|在庫あり|有り|あり|有货|现货|有|充足", "|")
)

// longestState bounds what is said of a stock, in bytes.
const longestState = 60

// counted is a number of pieces: its sign, itself, an upper end, what it counts.
var counted = pattern.Of(`^(?:ca\.?|approx\.?|about|only|nur|noch|still|über|over)?\s*([<>~=+≥]*)\s*` +
	`(\d{1,6})(?:[.,]0+)?\s*(?:[-–]\s*(\d{1,6}))?\s*(\+?)\s*(.*)$`)

// units are what a number of pieces counts.
var units = strings.Split("pcs|pc|pieces|piece|units|unit|left|items|item|ea|each|stk|st|stück|stuck|stücke|"+
	"verfügbar|pièces|pièce|pce|pces|uds|ud|unidades|unidad|piezas|un|peças|unidade|pz|pezzi|pezzo|stuks|stuk|"+
	"styck|szt|sztuk|sztuki|ks|kusů|kusy|kus|шт|штук|adet|tane|個|枚|本|件|个|条|kits|kit|sets|modules|sticks|"+
	"remaining|restants|übrig|kvar|over|rest", "|")

// stockIn reads what a cell says of the pieces to be had: "12", "12 pcs", ">50", "2 left", "in stock (3)", "few", "sold
// out". Of few there is one to be sure of; how many there are of what is just there stays unknown. ok is false where
// nothing is understood.
func stockIn(text string) (n maybe.Value[int], ok bool) {
	if bare, err := strconv.ParseUint(text, 10, 20); err == nil {
		return maybe.Just(int(bare)), true // as most cells are
	}
	t := strings.Trim(strings.ToLower(dotted.Replace(strings.TrimSpace(text))), " .!*")
	if t == "" || len(text) > longestState {
		return n, false
	}
	switch t {
	case "-", "–", "—", "no", "nein", "non", "none", "n", "nej", "nie", "ne", "não", "nee", "hayir", "✗", "✘",
		"なし", "无":
		return maybe.Just(0), true
	case "y", "✓", "✔", "○", "◎":
		return n, true
	}
	if holdsAny(t, goneWords) {
		return maybe.Just(0), true
	}
	if m := counted().FindStringSubmatch(t); m != nil {
		rest := strings.Trim(m[5], " .()!*")
		if rest == "" || holdsAny(rest, units) || holdsAny(rest, hereWords) || holdsAny(rest, fewWords) {
			count, err := strconv.Atoi(m[2])
			if strings.HasPrefix(m[1], "<") {
				count = min(count, 1) // fewer than so many: one, if any
			}
			return maybe.Just(count), err == nil
		}
		return n, false
	}
	few := holdsAny(t, fewWords)
	if !few && !holdsAny(t, hereWords) {
		return n, false
	}
	if at := strings.IndexAny(t, "0123456789"); at >= 0 {
		m := counted().FindStringSubmatch(strings.Trim(t[at:], " .()!*"))
		if m != nil && (m[5] == "" || holdsAny(m[5], units)) {
			count, err := strconv.Atoi(m[2])
			return maybe.Just(count), err == nil
		}
	}
	if few {
		n = maybe.Just(1)
	}
	return n, true
}

// stockSaid is what a description says of how many there are: none, one, or nothing.
func stockSaid(text string) maybe.Value[int] {
	t := strings.ToLower(dotted.Replace(text))
	switch {
	case holdsAny(t, goneInText):
		return maybe.Just(0)
	case holdsAny(t, lastInText):
		return maybe.Just(1)
	}
	return maybe.None[int]()
}

// holdsAny reports whether one of some words stands whole in a text.
func holdsAny(t string, some []string) bool {
	return slices.ContainsFunc(some, func(w string) bool { return holds(t, w) })
}

// holds reports whether a word, or a few, stand whole in a text; scripts that part no words are searched as they are.
func holds(t, word string) bool {
	for at := 0; ; {
		next := strings.Index(t[at:], word)
		if next < 0 {
			return false
		}
		from, to := at+next, at+next+len(word)
		if apart(t[:from], true) && apart(t[to:], false) || word[0] >= 0xe3 {
			return true
		}
		at = from + 1
	}
}

// apart reports whether no word goes on at the end, or the beginning, of what stands beside one.
func apart(beside string, before bool) bool {
	r, _ := utf8.DecodeRuneInString(beside)
	if before {
		r, _ = utf8.DecodeLastRuneInString(beside)
	}
	return beside == "" || !unicode.IsLetter(r) && (before || !unicode.IsDigit(r)) // "3pcs", and no "PC4"
}
