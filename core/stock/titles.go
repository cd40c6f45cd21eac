package stock

import (
	"slices"
	"strconv"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"epitome/core/pattern"
)

// titles are the words by which a column's title tells its meaning, one row a meaning
// and language, the most telling first. They are trade words.
var titles = []struct {
	field           Field
	language, words string
}{
	{SKU, "en", "sku|article no|article number|item no|item number|order code|order no|product code|code|article|part " +
		"no|part number|part|pn|p/n|ref|id|no"},
	{SKU, "de", "artikelnummer|artikelnr|art nr|artikel nr|bestellnr|bestellnummer|bestell nr|best " +
		"nr|teilenummer|artikel|nr|art"},
	{SKU, "fr", "référence|réf|code article|n° article|code produit"},
	{SKU, "es", "referencia|código|cód|codigo"},
	{SKU, "pt", "referência|código do produto"},
	{SKU, "it", "codice|cod|codice articolo|cod articolo|rif|riferimento"},
	{SKU, "nl", "artikelnummer|artnr|bestelnummer|bestelnr"},
	{SKU, "sv", "artikelnr|art nr|beställningsnr|artikelnummer|varenr|varenummer"},
	{SKU, "pl", "kod|indeks|symbol|nr katalogowy"},
	{SKU, "cs", "kód|objednací číslo|katalogové číslo|číslo"},
	{SKU, "ru", "артикул|код|код товара"},
	{SKU, "tr", "ürün kodu|stok kodu|kod"},
	{SKU, "ja", "型番|品番|商品コード"},
	{SKU, "zh", "货号|编号|型号|商品编号"},
	{Description, "en", "description|product name|item description|text|product|title|name|item|goods|module"},
	{Description, "de", "bezeichnung|beschreibung|artikelbezeichnung|produkt|produktname|ware|artikeltext"},
	{Description, "fr", "désignation|designation|libellé|description|produit|article|intitulé"},
	{Description, "es", "descripción|descripcion|producto|artículo|articulo|nombre|denominación"},
	{Description, "pt", "descrição|produto|artigo|designação|nome"},
	{Description, "it", "descrizione|prodotto|articolo|denominazione|nome"},
	{Description, "nl", "omschrijving|beschrijving|productnaam|product|artikelomschrijving|naam"},
	{Description, "sv", "benämning|beskrivning|produkt|produktnamn|vara|namn|varetekst"},
	{Description, "pl", "opis|nazwa|nazwa towaru|produkt|towar"},
	{Description, "cs", "popis|název|zboží|produkt|označení"},
	{Description, "ru", "описание|наименование|название|товар|номенклатура"},
	{Description, "tr", "açıklama|ürün|ürün adı|tanım"},
	{Description, "ja", "品名|商品名|商品|説明|製品名"},
	{Description, "zh", "品名|商品名称|名称|描述|产品|商品"},
	{Price, "en", "unit price|net price|price net|price each|price|cost|net|amount|gross price|gross"},
	{Price, "de", "einzelpreis|nettopreis|ek netto|vk netto|stückpreis|preis|ek|vk|netto|vk brutto|" +
		"ek brutto|bruttopreis|brutto|betrag"},
	{Price, "fr", "prix unitaire|prix ht|prix net|prix ttc|prix|tarif|montant|pu ht|pu"},
	{Price, "es", "precio unitario|precio neto|precio|pvp|p v p|importe|coste"},
	{Price, "pt", "preço unitário|preço líquido|preço|preco|valor"},
	{Price, "it", "prezzo unitario|prezzo netto|prezzo|costo|importo"},
	{Price, "nl", "stukprijs|nettoprijs|prijs|bedrag"},
	{Price, "sv", "à pris|styckpris|nettopris|pris"},
	{Price, "pl", "cena netto|cena jednostkowa|cena brutto|cena"},
	{Price, "cs", "cena bez dph|cena s dph|cena za kus|cena"},
	{Price, "ru", "цена|цена за шт|стоимость|розница|опт"},
	{Price, "tr", "birim fiyat|fiyat|tutar"},
	{Price, "ja", "単価|価格|値段|税込価格|税抜価格"},
	{Price, "zh", "单价|价格|售价|报价"},
	{Currency, "en", "currency|curr|ccy|cur"},
	{Currency, "de", "währung|waehrung|whg"},
	{Currency, "fr", "devise|monnaie"},
	{Currency, "es", "moneda|divisa"},
	{Currency, "pt", "moeda"},
	{Currency, "it", "valuta|divisa"},
	{Currency, "pl", "waluta"},
	{Currency, "cs", "měna"},
	{Currency, "ru", "валюта"},
	{Currency, "tr", "para birimi|döviz"},
	{Currency, "ja", "通貨"},
	{Currency, "zh", "币种|货币"},
	{Quantity, "en", "quantity|qty|in stock|stock|available|availability|on hand|pcs available|units|pcs|left"},
	{Quantity, "de", "bestand|lagerbestand|lager|menge|verfügbar|verfügbarkeit|anzahl|stk|stück|vorrat"},
	{Quantity, "fr", "quantité|qté|disponible|disponibilité|en stock"},
	{Quantity, "es", "cantidad|cant|existencias|disponible|disponibilidad"},
	{Quantity, "pt", "quantidade|qtd|qtde|estoque|disponível"},
	{Quantity, "it", "quantità|qtà|giacenza|disponibilità|disponibile"},
	{Quantity, "nl", "voorraad|aantal|beschikbaar"},
	{Quantity, "sv", "antal|lagersaldo|saldo|i lager"},
	{Quantity, "pl", "ilość|stan|stan magazynowy|dostępność|szt"},
	{Quantity, "cs", "množství|skladem|sklad|počet|ks"},
	{Quantity, "ru", "количество|кол во|остаток|наличие|в наличии"},
	{Quantity, "tr", "adet|miktar|stok"},
	{Quantity, "ja", "在庫|数量|在庫数"},
	{Quantity, "zh", "数量|库存"},
	{Pieces, "en", "pieces per kit|modules per kit|kit size|per kit|pieces|modules|pack|kit"},
	{Pieces, "de", "stück je set|stück pro kit|module je kit|stück|set"},
	{Pieces, "fr", "pièces par kit|pièces|barrettes"},
	{Pieces, "es", "piezas por kit|piezas"},
	{Pieces, "it", "pezzi per kit|pezzi"},
	{Pieces, "nl", "stuks per set|stuks"},
	{State, "en", "condition|cond|state|new/used|grade"},
	{State, "de", "zustand|status"},
	{State, "fr", "état|etat"},
	{State, "es", "estado|condición"},
	{State, "pt", "estado|condição"},
	{State, "it", "stato|condizione|condizioni"},
	{State, "nl", "staat|conditie"},
	{State, "sv", "skick|tillstånd"},
	{State, "pl", "stan towaru|kondycja"},
	{State, "cs", "stav"},
	{State, "ru", "состояние"},
	{State, "tr", "durum|durumu"},
	{State, "ja", "状態"},
	{State, "zh", "成色|状态|新旧"},
	{Minimum, "en", "minimum order|min order|minimum|min qty|moq|order unit"},
	{Minimum, "de", "mindestmenge|mindestbestellmenge|mindestabnahme|mbm"},
	{Minimum, "fr", "minimum de commande|qté min|min commande"},
	{Minimum, "es", "pedido mínimo|mínimo"},
	{Minimum, "it", "ordine minimo|min ordine"},
	{Minimum, "nl", "minimale afname|min afname"},
	{Minimum, "pl", "minimalne zamówienie|min zamówienie"},
	{Minimum, "ru", "мин заказ|минимальный заказ"},
}

// dotted writes every i with its dot: capitals do not tell Turkish's two apart.
var dotted = strings.NewReplacer("ı", "i", "i\u0307", "i")

// titled are the words of each field, all languages'; English first, as listed.
var titled = sync.OnceValue(func() map[Field][]string {
	words := make(map[Field][]string)
	for _, row := range titles {
		words[row.field] = append(words[row.field], strings.Split(dotted.Replace(row.words), "|")...)
	}
	return words
})

// longestTitle bounds a column's title, in bytes.
const longestTitle = 80

// A title is one column's, brought to words: lower case, no punctuation; what stands in
// brackets and the name of a currency apart.
type title struct{ words, currency string }

func readTitle(cell string) title {
	if len(cell) > longestTitle || !utf8.ValidString(cell) {
		return title{}
	}
	s := dotted.Replace(strings.ToLower(cell))
	currency := ""
	for sign, code := range symbols {
		if code != "" && (strings.Contains(s, sign) && !isLetters(sign)) {
			currency, s = code, strings.ReplaceAll(s, sign, " ")
		}
	}
	words := strings.FieldsFunc(s, func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '/' && r != '°' && r != '%'
	})
	for i, w := range words {
		code := strings.ToUpper(w)
		if sign := symbols[w]; sign != "" {
			code = sign
		}
		if slices.Contains(currencies, code) && len(words) > 1 {
			currency, words = code, slices.Delete(words, i, i+1)
			break
		}
	}
	return title{strings.Join(words, " "), currency}
}

func isLetters(s string) bool {
	return !strings.ContainsFunc(s, func(r rune) bool { return !unicode.IsLetter(r) })
}

// currencies are the codes of ISO 4217 that titles of price lists carry.
var currencies = []string{"EUR", "USD", "GBP", "CHF", "SEK", "NOK", "DKK", "PLN", "CZK", "HUF", "RON", "BGN", "TRY",
	"RUB", "UAH", "JPY", "CNY", "RMB", "BRL", "CAD", "AUD", "NZD", "INR", "MXN", "ZAR", "KRW", "TWD", "HKD", "SGD"}

// recognise finds the meaning of each title by itself: a title that is one of the words wins over one that only
// holds it, an earlier word over a later. currency is what the price's title names.
func recognise(row []string) (columns map[Field]int, currency string) {
	read := titlesOf(row)
	columns = assign(read, nil, nil)
	if at, ok := columns[Price]; ok {
		currency = read[at].currency
	}
	return columns, currency
}

func titlesOf(row []string) []title {
	read := make([]title, len(row))
	for i, cell := range row {
		read[i] = readTitle(cell)
	}
	return read
}

// bulk is how titles name the price of many: "from 10", "ab 10 Stk", "100+".
var bulk = pattern.Of(`(?:^|\s)(?:from|ab|dès|da|desde|vanaf|od|от|från|per|x)\s*(\d{1,4})(?:\s|$)|` +
	`(?:^|\s)(\d{1,4})\s*(?:\+|pcs|stk|st|szt|шт|adet)(?:\s|$)`)

// atLeast is how many must be taken for a price that its title gives for many; 1 for others.
func (t title) atLeast() int {
	m := bulk().FindStringSubmatch(t.words)
	if m == nil {
		return 1
	}
	n, _ := strconv.Atoi(m[1] + m[2])
	return max(n, 1)
}

// Words of titles that tell of a price which one it is, and of other amounts that they are none.
var (
	notPrices = strings.Split("shipping|postage|delivery|versand|porto|frais|envío|spedizione|verzending|frakt|"+
		"wysyłka|doprava|доставка|kargo|送料|运费|weight|gewicht|poids|peso|vikt|waga|вес|deposit|pfand|total|summe|"+
		"gesamt|discount|rabatt|rabat|remise|скидка %|voltage|volt|volts|spannung|margin|marge", "|")
	oldPrices = strings.Split("list|rrp|msrp|uvp|old|was|before|statt|vorher|alt|alter|barré|conseillé|antes|"+
		"anterior|tachado|listino|adviesprijs|ordinarie|katalogowa|původní|běžná|старая|рекомендованная|eski|"+
		"liste|定価|参考価格|原价|市场价", "|")
	salePrices = strings.Split("sale|special|offer|now|deal|promo|angebot|angebotspreis|aktion|aktionspreis|"+
		"sonderpreis|jetzt|soldes|promotion|oferta|rebajado|promoção|offerta|scontato|promozione|aanbieding|"+
		"actieprijs|kampanj|kampanjpris|rea|reapris|tilbud|promocja|promocyjna|akce|akční|акция|акционная|"+
		"indirim|indirimli|kampanya|特価|セール|促销|促销价|特价|现价", "|")
	netWords = strings.Split("net|netto|nett|ht|neto|líquido|bez|excl|ex|exkl|zzgl|税抜|税抜価格|未税", "|")
	allWords = strings.Split("gross|brutto|ttc|bruto|incl|inkl|inc|lordo|税込|税込価格|含税", "|")
)

func (t title) any(words []string) bool {
	return slices.ContainsFunc(words, func(w string) bool { return holds(t.words, w) })
}

// noPrice reports whether a title names another amount than a price: "shipping", "shipping cost", not "price incl.
// shipping".
func (t title) noPrice() bool {
	first, _, _ := strings.Cut(t.words, " ")
	return title{words: first}.any(notPrices) || t.any(notPrices) && !t.any(titled()[Price])
}

// tells weighs what a title says of a field, without its cells.
func (t title) tells(f Field) float64 {
	if t.words == "" {
		if f == Price && t.currency != "" {
			return 4 // a currency's sign stands above prices
		}
		return 0
	}
	switch {
	case f == Sale:
		if t.any(salePrices) && !t.noPrice() {
			return 4.5
		}
		return 0
	case f == Price && t.noPrice():
		return -20
	case f == Price && t.atLeast() > 1:
		return 0.2
	case f == Price && t.any(oldPrices):
		return 0.5
	}
	for i, word := range titled()[f] {
		if t.words == word {
			return 5 - 0.001*float64(i) + 0.1*float64(len(Fields)-slices.Index(Fields, f))
		}
	}
	for i, word := range titled()[f] {
		if len([]rune(word)) > 2 && holds(t.words, word) {
			return 3 - 0.001*float64(i)
		}
	}
	return 0
}

// tax is what a title says of a price: "net", "gross", or nothing.
func (t title) tax() string {
	switch net, all := t.any(netWords), t.any(allWords); {
	case net && !all:
		return "net"
	case all && !net:
		return "gross"
	}
	return ""
}
