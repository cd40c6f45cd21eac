package module

import (
	"slices"
	"strings"
	"sync"
	"unicode"
)

// The words of shops stand in one table by what they mean and the language that they
// are of; the grammar knows the meanings alone. A language is added by rows.

// Meanings, as the grammar knows them.
const (
	meansUsed        = "used"
	meansRefurbished = "refurbished"
	meansNew         = "new"
	meansNo          = "no"
	meansNonECC      = "non-ecc"
	meansRegistered  = "registered"
	meansUnbuffered  = "unbuffered"
	meansBuffer      = "buffer" // "without buffer"
	meansPiece       = "piece"
	meansKit         = "kit"
	meansOf          = "of"
	meansClock       = "clock"
	meansLaptop      = "laptop"
	meansDesktop     = "desktop"
	meansGoods       = "goods" // what is sold is something else
)

// lexicon is the table: words apart by bars, each as it is written in lower case.
// Several words, and those of languages that write without spaces, are found
// anywhere in a text.
var lexicon = []struct{ means, language, words string }{
	{meansUsed, "en", "used|pulled|pull|pulls|second-hand|secondhand|second hand|2nd hand|pre-owned|preowned|ex-server"},
	{meansUsed, "de", "gebraucht|gebrauchte|gebrauchter|gebr|gebr."},
	{meansUsed, "fr", "occasion|occas|d'occasion|usagé|usagée"},
	{meansUsed, "es", "usado|usada|usados|segunda mano"},
	{meansUsed, "pt", "usado|usada|seminovo|seminova|segunda mão"},
	{meansUsed, "it", "usato|usata|usati"},
	{meansUsed, "nl", "tweedehands|gebruikt|gebruikte"},
	{meansUsed, "pl", "używany|używana|używane|uzywany|uzywana|uzywane|poleasingowy|poleasingowa|poleasingowe|demontaż|demontaz|z demontażu"},
	{meansUsed, "cs", "použitý|použitá|použité|pouzita|bazar"},
	{meansUsed, "sv", "begagnat|begagnad|begagnade"},
	{meansUsed, "da", "brugt|brugte"},
	{meansUsed, "fi", "käytetty"},
	{meansUsed, "ru", "б/у|бу|подержанный|подержанная|бывший в употреблении"},
	{meansUsed, "ja", "中古"},
	{meansUsed, "zh", "二手|拆机"},
	{meansUsed, "tr", "ikinci el|2. el|kullanılmış"},
	{meansRefurbished, "en", "refurbished|refurb|renewed|reconditioned|remanufactured"},
	{meansRefurbished, "de", "generalüberholt|generalueberholt|überholt|wiederaufbereitet|aufbereitet|refurbisht"},
	{meansRefurbished, "fr", "reconditionné|reconditionnée|reconditionne|reconditionnee"},
	{meansRefurbished, "es", "reacondicionado|reacondicionada"},
	{meansRefurbished, "pt", "recondicionado|recondicionada"},
	{meansRefurbished, "it", "ricondizionato|ricondizionata"},
	{meansRefurbished, "nl", "gereviseerd"},
	{meansRefurbished, "pl", "odnowiony|odnowiona|regenerowana"},
	{meansRefurbished, "cs", "repasovaný|repasovaná|repasované|repas"},
	{meansRefurbished, "sv", "renoverad|renoverat"},
	{meansRefurbished, "ru", "восстановленный|восстановленная|восстановленная"},
	{meansRefurbished, "ja", "再生品|整備済"},
	{meansRefurbished, "zh", "翻新"},
	{meansRefurbished, "tr", "yenilenmiş"},
	{meansNew, "en", "new|sealed|brand-new"},
	{meansNew, "de", "neu|neue|neuer|neues|neuware"},
	{meansNew, "fr", "neuf|neuve|neufs"},
	{meansNew, "es", "nuevo|nueva|nuevos"},
	{meansNew, "pt", "novo|nova|novos"},
	{meansNew, "it", "nuovo|nuova|nuovi"},
	{meansNew, "nl", "nieuw|nieuwe"},
	{meansNew, "pl", "nowy|nowa|nowe"},
	{meansNew, "cs", "nový|nová|nové|novy"},
	{meansNew, "sv", "ny|nytt|nya"},
	{meansNew, "ru", "новый|новая|новое|новые"},
	{meansNew, "ja", "新品|未開封"},
	{meansNew, "zh", "全新"},
	{meansNew, "tr", "yeni|sıfır"},
	{meansNo, "en", "no|non|not|without|w/o"},
	{meansNo, "de", "ohne|kein|keine|nicht"},
	{meansNo, "fr", "sans|pas de"},
	{meansNo, "es", "sin"},
	{meansNo, "pt", "sem|não"},
	{meansNo, "it", "senza"},
	{meansNo, "nl", "zonder|geen|niet"},
	{meansNo, "sv", "utan|ej|icke|inte"},
	{meansNo, "da", "uden|ikke"},
	{meansNo, "no", "uten"},
	{meansNo, "pl", "bez|nie"},
	{meansNo, "ru", "без|не"},
	{meansNo, "hu", "nélkül|nem"},
	{meansNo, "fi", "ilman|ei"},
	{meansNonECC, "en", "non-ecc|nonecc|no-ecc"},
	{meansNonECC, "de", "nicht-ecc"},
	{meansNonECC, "nl", "niet-ecc"},
	{meansNonECC, "sv", "icke-ecc|ej-ecc"},
	{meansNonECC, "ja", "ノンecc|非ecc|eccなし|ecc無し|ecc非対応"},
	{meansNonECC, "zh", "无ecc|非ecc|不带ecc|無ecc"},
	{meansNonECC, "tr", "ecc'siz|eccsiz|ecc olmayan"},
	{meansRegistered, "en", "registered|reg|reg.|buffered"},
	{meansRegistered, "de", "registriert|registrierter|registrierte|gepuffert"},
	{meansRegistered, "fr", "enregistrée|enregistré|enregistree|enregistre|registré"},
	{meansRegistered, "es", "registrada|registrado"},
	{meansRegistered, "pt", "registrada|registrado|registada|registado"},
	{meansRegistered, "it", "registrata|registrato"},
	{meansRegistered, "nl", "geregistreerd|gebufferd"},
	{meansRegistered, "sv", "registrerat|registrerad|buffrat"},
	{meansRegistered, "pl", "rejestrowana|rejestrowany|buforowana|buforowany"},
	{meansRegistered, "cs", "registrovaná|registrovaný"},
	{meansRegistered, "ru", "регистровая|регистровый|буферизованная"},
	{meansRegistered, "tr", "kayıtlı"},
	{meansRegistered, "ja", "レジスタード"},
	{meansUnbuffered, "en", "unbuffered|un-buffered|unbuff|unregistered|non-registered|non-reg|non-buffered"},
	{meansUnbuffered, "de", "ungepuffert|unregistriert"},
	{meansUnbuffered, "nl", "ongebufferd|niet-gebufferd"},
	{meansUnbuffered, "sv", "obuffrat|obuffrad"},
	{meansUnbuffered, "pl", "niebuforowana|niebuforowany|nierejestrowana"},
	{meansUnbuffered, "cs", "nebufferovaná|neregistrovaná"},
	{meansUnbuffered, "ru", "небуферизованная|небуферизованный|нерегистровая"},
	{meansUnbuffered, "fr", "non tamponnée"},
	{meansUnbuffered, "tr", "tamponsuz|kayıtsız"},
	{meansUnbuffered, "ja", "アンバッファード|アンバッファ"},
	{meansUnbuffered, "zh", "无缓冲|無緩衝"},
	{meansBuffer, "en", "buffer|register|registre|registro|búfer|bufor|bufora|puffer|tampon|rejestru|registers"},
	{meansPiece, "en", "stick|sticks|module|modules|piece|pieces|pcs|pc.|dimms|sodimms"},
	{meansPiece, "de", "stück|stueck|stk|riegel|module|speicherriegel"},
	{meansPiece, "fr", "barrette|barrettes|pièces|pieces"},
	{meansPiece, "es", "módulos|módulo|modulos|piezas|unidades"},
	{meansPiece, "it", "moduli|pezzi|banchi"},
	{meansPiece, "nl", "stuks|stuk|reepjes|latjes"},
	{meansPiece, "pl", "szt|sztuki|sztuk|kości|moduły"},
	{meansPiece, "cs", "ks|kusy|kusů"},
	{meansPiece, "sv", "st|stycken|moduler"},
	{meansPiece, "ru", "шт|штуки|планки|модуля|модулей"},
	{meansPiece, "ja", "枚組|枚セット|枚"},
	{meansPiece, "zh", "条装|根|条套装"},
	{meansPiece, "tr", "adet"},
	{meansKit, "en", "kit|set|pack|lot|bundle"},
	{meansKit, "cs", "sada"},
	{meansKit, "pl", "zestaw"},
	{meansKit, "ru", "комплект|набор"},
	{meansKit, "zh", "套装|套条"},
	{meansOf, "en", "of"},
	{meansOf, "de", "von|à|je|zu"},
	{meansOf, "fr", "de|da"},
	{meansOf, "nl", "van"},
	{meansOf, "it", "di"},
	{meansOf, "ru", "по"},
	{meansOf, "pl", "po"},
	{meansClock, "en", "clock|takt|horloge|reloj|zegar"},
	{meansLaptop, "en", "laptop|laptops|notebook|notebooks|notebok|portable|portátil|portatil|portatile|laptopa|ноутбука|dizüstü|bärbar"},
	{meansLaptop, "ja", "ノート用|ノートpc用"},
	{meansLaptop, "zh", "笔记本内存|筆電用|筆電"},
	{meansDesktop, "en", "desktop|stacjonarnego|sobremesa|bureau|fisso|tower|workstation"},
	{meansDesktop, "ja", "デスクトップ用"},
	{meansDesktop, "zh", "台式机|桌上型"},
	{meansGoods, "en", "ssd|hdd|nvme|disk|mainboard|motherboard|mini-pc|minipc|mini pc|barebone|nas|network storage|graphics card|video card|gpu|raid|controller|cache|battery|service|installation|heatsink|heat sink|heat spreader|heatspreader|cooler|compact flash|compactflash|microsd|sd card|memory card|usb|pendrive|adapter|adaptor|riser|tester|dummy|tablet|smartphone|printer|console|no memory chips|socket 1200|display|keyboard|docking"},
	{meansGoods, "de", "festplatte|hauptplatine|sockel|grafikkarte|kühler|kuehler|kühlkörper|einbau|einbauservice|montage|speicherkarte|akku|gehäuse|netzteil"},
	{meansGoods, "fr", "disque|carte mère|carte mere|carte graphique|dissipateur|adaptateur|clé usb|carte mémoire|batterie"},
	{meansGoods, "es", "placa base|tarjeta gráfica|tarjeta grafica|disipador|adaptador|disco duro|tarjeta de memoria"},
	{meansGoods, "pt", "placa-mãe|placa mãe|placa de vídeo|disco rígido|cartão de memória"},
	{meansGoods, "it", "scheda madre|scheda video|dissipatore|adattatore|disco rigido|scheda di memoria"},
	{meansGoods, "nl", "moederbord|grafische kaart|koeler|geheugenkaart|harde schijf"},
	{meansGoods, "sv", "moderkort|grafikkort|kylare|minneskort|hårddisk"},
	{meansGoods, "pl", "płyta główna|plyta glowna|karta graficzna|radiator|dysk|karta pamięci"},
	{meansGoods, "cs", "základní deska|grafická karta|chladič|pevný disk|paměťová karta"},
	{meansGoods, "ru", "материнская плата|видеокарта|радиатор|переходник|жесткий диск|карта памяти|системная плата"},
	{meansGoods, "ja", "ノートパソコン|マザーボード|グラフィック|ヒートシンク|変換アダプタ|メモリカード"},
	{meansGoods, "zh", "主板|显卡|散热|笔记本电脑|转接|固态硬盘|台式电脑"},
	{meansGoods, "tr", "anakart|ekran kartı|soğutucu|sabit disk"},
	// Units, and how numbers are said.
	{"gb", "ru", "гб|гбайт|гиг|гигабайт"},
	{"gb", "es", "gigas|giga|gigs"},
	{"mb", "ru", "мб|мбайт"},
	{"mhz", "ru", "мгц"},
	{"mt/s", "ru", "мт/с|мтс"},
	{"v", "ru", "в"},
	{"pin", "en", "pins|pines|broches|kontakte|poli|polig|pole|stifts|stift|контактов|pinos|pinów|ピン|针"},
	{"2", "en", "two|pair|zwei|deux|dos|due|twee|dwa|dwie|два|две|paar|paire|par|coppia"},
	{"3", "en", "three|drei|trois|tres|tre|drie|trzy|три"},
	{"4", "en", "four|vier|quatre|cuatro|quattro|cztery|четыре"},
	{"rank", "en", "rang"},
}

// said are the lexicon's single words, and its phrases, longest first.
type said struct {
	words   map[string]string
	phrases []phrase
}

type phrase struct{ text, means string }

// lexicons are made when the first listing is read.
var lexicons = sync.OnceValue(func() said {
	s := said{words: make(map[string]string)}
	for _, row := range lexicon {
		for word := range strings.SplitSeq(row.words, "|") {
			if strings.ContainsRune(word, ' ') || glued(word) || strings.ContainsAny(word, "/'") {
				s.phrases = append(s.phrases, phrase{word, row.means})
			} else {
				s.words[word] = row.means
			}
		}
	}
	slices.SortStableFunc(s.phrases, func(a, b phrase) int { return len(b.text) - len(a.text) })
	return s
})

// glued reports whether a word is of a language that writes without spaces.
func glued(word string) bool {
	return strings.ContainsFunc(word, func(r rune) bool {
		return unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana)
	})
}
