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
	meansServer      = "server"
	meansFor         = "for"          // whom or what it is for: "not for laptops"
	meansGoods       = "other-goods"  // what is sold is something else
	meansMachine     = "host-machine" // that modules go into: sold itself, unless the module is for it
	meansCooling     = "cooling"      // of a module, or goods by itself
	meansLeast       = "least"        // "minimum order of 2"
	meansNoAfter     = "no-after"     // a negation behind what it takes away
	meansOnDie       = "on-die"       // correction within each chip, which every DDR5 module has: no check bits
)

// lexicon is the table: words apart by bars, each as it is written in lower case.
// Several words, and those of languages that write without spaces, are found
// anywhere in a text.
var lexicon = []struct{ means, language, words string }{
	{meansUsed, "en", "used|pulled|pull|pulls|second-hand|secondhand|second hand|2nd hand|pre-owned|preowned"},
	{meansUsed, "en", "ex-server|open box|openbox|as is|as-is|ex lease|ex-lease|off lease|off-lease|like new"},
	{meansUsed, "en", "like-new|as new|as-new|nearly new|salvaged|removed from"},
	{meansUsed, "de", "gebraucht|gebrauchte|gebrauchter|gebr|gebr.|gebrauchtware|gebrauchtes|b-ware|ausgebaut"},
	{meansUsed, "de", "ausbau|wie neu|neuwertig|rückläufer|leasingrückläufer"},
	{meansUsed, "fr", "occasion|occas|d'occasion|usagé|usagée|comme neuf|comme neuve|démonté|démontée"},
	{meansUsed, "es", "usado|usada|usados|segunda mano|seminuevo|seminueva|como nuevo|como nueva|segunda-mano"},
	{meansUsed, "es", "desmontaje"},
	{meansUsed, "pt", "usado|usada|seminovo|seminova|segunda mão|como novo|como nova"},
	{meansUsed, "it", "usato|usata|usati|come nuovo|come nuova|seconda mano"},
	{meansUsed, "nl", "tweedehands|gebruikt|gebruikte|als nieuw|2e hands|2ehands"},
	{meansUsed, "pl", "używany|używana|używane|uzywany|uzywana|uzywane|poleasingowy|poleasingowa|poleasingowe"},
	{meansUsed, "pl", "demontaż|demontaz|z demontażu|jak nowy|jak nowa|z laptopa"},
	{meansUsed, "cs", "použitý|použitá|použité|pouzita|bazar|jako nový|použito|pouzity|z druhé ruky"},
	{meansUsed, "sv", "begagnat|begagnad|begagnade|som ny|beg.|begagnat"},
	{meansUsed, "da", "brugt|brugte"},
	{meansUsed, "fi", "käytetty"},
	{meansUsed, "ru", "б/у|бу|подержанный|подержанная|бывший в употреблении|б.у.|б/у|б у|снятая|снятый"},
	{meansUsed, "ru", "как новая|как новый|с разбора"},
	{meansUsed, "ja", "中古|動作確認済"},
	{meansUsed, "zh", "二手|拆机|拆机|九成新|旧"},
	{meansUsed, "tr", "ikinci el|2. el|kullanılmış|2.el|çıkma"},
	{meansUsed, "no", "brukt"},
	{meansUsed, "hu", "használt"},
	{meansRefurbished, "en", "refurbished|refurb|renewed|reconditioned|remanufactured|re-certified|recertified"},
	{meansRefurbished, "en", "grade a|grade b|grade c|class a"},
	{meansRefurbished, "de", "generalüberholt|generalueberholt|überholt|wiederaufbereitet|aufbereitet"},
	{meansRefurbished, "de", "refurbisht|refurb|gen.überholt|instandgesetzt"},
	{meansRefurbished, "fr", "reconditionné|reconditionnée|reconditionne|reconditionnee|remis à neuf"},
	{meansRefurbished, "fr", "remise à neuf|remis en état|reconditionnés"},
	{meansRefurbished, "es", "reacondicionado|reacondicionada|reacondicionados|restaurado"},
	{meansRefurbished, "pt", "recondicionado|recondicionada"},
	{meansRefurbished, "it", "ricondizionato|ricondizionata|rigenerato|rigenerata"},
	{meansRefurbished, "nl", "gereviseerd|refurb"},
	{meansRefurbished, "pl", "odnowiony|odnowiona|regenerowana|odnawiany|odnawiana|regenerowany"},
	{meansRefurbished, "cs", "repasovaný|repasovaná|repasované|repas|renovovaný|renovovaná"},
	{meansRefurbished, "sv", "renoverad|renoverat|rekonditionerad"},
	{meansRefurbished, "ru", "восстановленный|восстановленная|восстановленная|рефреш"},
	{meansRefurbished, "ja", "再生品|整備済"},
	{meansRefurbished, "zh", "翻新"},
	{meansRefurbished, "tr", "yenilenmiş"},
	{meansNew, "en", "new|sealed|brand-new|unused|unopened|factory sealed"},
	{meansNew, "de", "neu|neue|neuer|neues|neuware|unbenutzt|ungebraucht|originalverpackt|ovp|fabrikneu"},
	{meansNew, "fr", "neuf|neuve|neufs|sous blister"},
	{meansNew, "es", "nuevo|nueva|nuevos|sin usar|precintado"},
	{meansNew, "pt", "novo|nova|novos"},
	{meansNew, "it", "nuovo|nuova|nuovi|sigillato|sigillata"},
	{meansNew, "nl", "nieuw|nieuwe|ongebruikt"},
	{meansNew, "pl", "nowy|nowa|nowe|nieużywany|nieużywana"},
	{meansNew, "cs", "nový|nová|nové|novy"},
	{meansNew, "sv", "ny|nytt|nya|oanvänd|oöppnad"},
	{meansNew, "ru", "новый|новая|новое|новые"},
	{meansNew, "ja", "新品|未開封"},
	{meansNew, "zh", "全新"},
	{meansNew, "tr", "yeni|sıfır"},
	{meansNew, "hu", "új"},
	{meansNew, "fi", "uusi"},
	{meansNew, "da", "ubrugt"},
	{meansNo, "en", "no|non|not|without|w/o"},
	{meansNo, "de", "ohne|kein|keine|nicht|nein|keinen|keinem"},
	{meansNo, "fr", "sans|pas de"},
	{meansNo, "es", "sin"},
	{meansNo, "pt", "sem|não"},
	{meansNo, "it", "senza"},
	{meansNo, "nl", "zonder|geen|niet|nee"},
	{meansNo, "sv", "utan|ej|icke|inte|nej"},
	{meansNo, "da", "uden|ikke"},
	{meansNo, "no", "uten"},
	{meansNo, "pl", "bez|nie|nie"},
	{meansNo, "ru", "без|не|нет"},
	{meansNo, "hu", "nélkül|nem"},
	{meansNo, "fi", "ilman|ei"},
	{meansNo, "cs", "ne"},
	{meansNo, "tr", "hayır|değil"},
	{meansNonECC, "en", "non-ecc|nonecc|no-ecc"},
	{meansNonECC, "de", "nicht-ecc"},
	{meansNonECC, "nl", "niet-ecc"},
	{meansNonECC, "sv", "icke-ecc|ej-ecc"},
	{meansNonECC, "ja", "ノンecc|非ecc|eccなし|ecc無し|ecc非対応|ecc 無し|ecc なし"},
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
	{meansUnbuffered, "de", "ungepuffert|unregistriert|un-gepuffert|unregistrierter|ungepufferter"},
	{meansUnbuffered, "nl", "ongebufferd|niet-gebufferd"},
	{meansUnbuffered, "sv", "obuffrat|obuffrad"},
	{meansUnbuffered, "pl", "niebuforowana|niebuforowany|nierejestrowana"},
	{meansUnbuffered, "cs", "nebufferovaná|neregistrovaná"},
	{meansUnbuffered, "ru", "небуферизованная|небуферизованный|нерегистровая"},
	{meansUnbuffered, "fr", "non tamponnée|sans registre|non-enregistrée"},
	{meansUnbuffered, "tr", "tamponsuz|kayıtsız"},
	{meansUnbuffered, "ja", "アンバッファード|アンバッファ"},
	{meansUnbuffered, "zh", "无缓冲|無緩衝"},
	{meansUnbuffered, "es", "sin búfer|sin registro"},
	{meansBuffer, "en", "buffer|register|registre|registro|búfer|bufor|bufora|puffer|tampon|rejestru|registers"},
	{meansPiece, "en", "stick|sticks|module|modules|piece|pieces|pcs|pc.|dimms|sodimms|sticks|unit|units"},
	{meansPiece, "de", "stück|stueck|stk|riegel|module|speicherriegel|stck|st.|modulen"},
	{meansPiece, "fr", "barrette|barrettes|pièces|pieces|barettes"},
	{meansPiece, "es", "módulos|módulo|modulos|piezas|unidades|módulo"},
	{meansPiece, "it", "moduli|pezzi|banchi"},
	{meansPiece, "nl", "stuks|stuk|reepjes|latjes"},
	{meansPiece, "pl", "szt|sztuki|sztuk|kości|moduły|kostki|kostka|sztuka"},
	{meansPiece, "cs", "ks|kusy|kusů|moduly|modulů"},
	{meansPiece, "sv", "st|stycken|moduler"},
	{meansPiece, "ru", "шт|штуки|планки|модуля|модулей|планка|модуль|модулей|штук|плашки|плашка"},
	{meansPiece, "ja", "枚組|枚セット|枚"},
	{meansPiece, "zh", "条装|根|条套装"},
	{meansPiece, "tr", "adet"},
	{meansPiece, "pt", "pentes|pente"},
	{meansPiece, "da", "stk."},
	{meansKit, "en", "kit|set|pack|lot|bundle"},
	{meansKit, "cs", "sada"},
	{meansKit, "pl", "zestaw"},
	{meansKit, "ru", "комплект|набор"},
	{meansKit, "zh", "套装|套条"},
	{meansKit, "de", "set|satz|paket"},
	{meansKit, "es", "juego|lote|pack"},
	{meansKit, "it", "confezione|lotto"},
	{meansKit, "sv", "paket|sats"},
	{meansKit, "tr", "takım|set"},
	{meansOf, "en", "of"},
	{meansOf, "de", "von|à|je|zu|mit|a"},
	{meansOf, "fr", "de|da"},
	{meansOf, "nl", "van"},
	{meansOf, "it", "di"},
	{meansOf, "ru", "по"},
	{meansOf, "pl", "po"},
	{meansOf, "es", "de"},
	{meansOf, "sv", "av|om"},
	{meansOf, "cs", "po"},
	{meansClock, "en", "clock|takt|horloge|reloj|zegar"},
	{meansServer, "en", "server|servers|server-ram|server-memory"},
	{meansServer, "de", "server-speicher|serverspeicher|serverram|serverarbeitsspeicher"},
	{meansServer, "fr", "serveur|serveurs"},
	{meansServer, "es", "servidor|servidores"},
	{meansServer, "pl", "serwer|serwera|serwerowa|serwerów"},
	{meansServer, "sv", "serverminne"},
	{meansServer, "nl", "servergeheugen"},
	{meansServer, "ru", "сервер|сервера|серверов|серверная"},
	{meansServer, "tr", "sunucu"},
	{meansServer, "ja", "サーバー用|サーバ用"},
	{meansServer, "zh", "服务器内存|服务器"},
	{meansFor, "en", "for|fits|fit"},
	{meansFor, "de", "für"},
	{meansFor, "fr", "pour"},
	{meansFor, "es", "para"},
	{meansFor, "it", "per"},
	{meansFor, "nl", "voor"},
	{meansFor, "sv", "för|till"},
	{meansFor, "pl", "do|dla"},
	{meansFor, "ru", "для"},
	{meansLaptop, "en", "laptop|laptops|notebook|notebooks|notebok|portable|portátil|portatil|portatile"},
	{meansLaptop, "en", "laptopa|ноутбука|dizüstü|bärbar|notebook|ultrabook|netbook"},
	{meansLaptop, "ja", "ノート用|ノートpc用|ノートパソコン用|ノート"},
	{meansLaptop, "zh", "笔记本内存|筆電用|筆電|笔记本"},
	{meansLaptop, "de", "notebook-ram|laptopspeicher|notebookspeicher"},
	{meansLaptop, "fr", "portables|ordinateur portable|pc portable"},
	{meansLaptop, "es", "portátiles|portatiles"},
	{meansLaptop, "pl", "laptopów|notebooka"},
	{meansLaptop, "cs", "notebooku|notebooky"},
	{meansLaptop, "ru", "ноутбук|ноутбуков|ноут"},
	{meansLaptop, "tr", "dizüstü|laptop"},
	{meansDesktop, "en", "desktop|stacjonarnego|sobremesa|bureau|fisso|tower|workstation"},
	{meansDesktop, "ja", "デスクトップ用|デスク"},
	{meansDesktop, "zh", "台式机|桌上型"},
	{meansDesktop, "fr", "ordinateur de bureau|pc de bureau"},
	{meansDesktop, "de", "desktop-pc|standrechner"},
	{meansDesktop, "pl", "stacjonarny|komputera stacjonarnego"},
	{meansDesktop, "tr", "masaüstü"},
	{meansDesktop, "sv", "stationär"},
	{meansDesktop, "ru", "настольного|настольных"},
	{meansGoods, "en", "ssd|hdd|nvme|disk|barebone"},
	{meansMachine, "en", "mainboard|motherboard|mini-pc|minipc|mini pc|nas|network storage|all-in-one"},
	{meansMachine, "en", "thin client|thinclient"},
	{meansGoods, "en", "graphics card|video card|gpu|raid|controller|cache|battery|service"},
	{meansGoods, "en", "installation|compact flash|compactflash|microsd|sd card|memory card|usb|pendrive"},
	{meansGoods, "en", "adapter|adaptor|riser|tester|dummy|tablet|smartphone|printer|console|no memory chips"},
	{meansGoods, "en", "socket 1200|display|keyboard|docking|inch|fhd|webcam"},
	{meansGoods, "en", "wlan|wifi|bluetooth|windows|win10|win11|touchscreen|monitor|screen|flash drive|flash"},
	{meansGoods, "en", "router|switch|power supply|psu|charger|case|bag|sleeve|cable|mousepad|mouse|server 1u"},
	{meansGoods, "en", "server 2u|rack server|laptop bag|upgrade service|fitting service|repair"},
	{meansGoods, "de", "festplatte|hauptplatine|sockel|grafikkarte|einbau|einbauservice|montage|speicherkarte"},
	{meansGoods, "de", "akku|gehäuse|netzteil|zoll|tasche|kabel|bildschirm|rechner|reparatur|aufrüstservice"},
	{meansGoods, "de", "lüfterlos|nur platine"},
	{meansGoods, "fr", "disque|carte mère|carte mere|carte graphique|adaptateur|clé usb|carte mémoire|batterie"},
	{meansGoods, "fr", "pouces|écran|clavier|chargeur|sacoche|installation de mémoire|pose"},
	{meansGoods, "es", "placa base|tarjeta gráfica|tarjeta grafica|adaptador|disco duro|tarjeta de memoria"},
	{meansGoods, "es", "pulgadas|pantalla|teclado|cargador|servicio|instalación|memoria usb|pendrive"},
	{meansGoods, "pt", "placa-mãe|placa mãe|placa de vídeo|disco rígido|cartão de memória|polegadas|tela"},
	{meansGoods, "pt", "teclado|carregador|serviço|instalação"},
	{meansGoods, "it", "scheda madre|scheda video|adattatore|disco rigido|scheda di memoria|pollici|schermo"},
	{meansGoods, "it", "tastiera|caricatore|servizio|installazione|chiavetta"},
	{meansGoods, "nl", "moederbord|grafische kaart|geheugenkaart|harde schijf|moederborden|scherm|toetsenbord"},
	{meansGoods, "nl", "oplader|inbouw|installatie|usb-stick"},
	{meansGoods, "sv", "moderkort|grafikkort|minneskort|hårddisk|tum|skärm|tangentbord|laddare|installation"},
	{meansGoods, "sv", "fodral|usb-minne"},
	{meansGoods, "pl", "płyta główna|plyta glowna|karta graficzna|dysk|karta pamięci|cali|ekran|klawiatura"},
	{meansGoods, "pl", "ładowarka|usługa|montaż|przejściówka|karta sieciowa"},
	{meansGoods, "cs", "základní deska|grafická karta|pevný disk|paměťová karta|palců|obrazovka|klávesnice"},
	{meansGoods, "cs", "nabíječka|instalace|redukce"},
	{meansGoods, "ru", "материнская плата|видеокарта|переходник|жесткий диск|карта памяти|системная плата"},
	{meansGoods, "ru", "дюймов|дюйма|экран|клавиатура|зарядное|установка|услуга|флешка|мини-пк|моноблок"},
	{meansGoods, "ru", "сервер в сборе"},
	{meansGoods, "ja", "ノートパソコン|マザーボード|グラフィック|変換アダプタ|メモリカード|インチ|液晶|キーボード|充電器|取付サービス|ミニpc|usbメモリ|タブレット"},
	{meansGoods, "zh", "主板|显卡|笔记本电脑|转接|固态硬盘|台式电脑|英寸|屏幕|键盘|充电器|安装服务|迷你主机|u盘|平板|转接卡|一体机|整机"},
	{meansGoods, "tr", "anakart|ekran kartı|sabit disk|inç|ekran|klavye|şarj|montaj|kurulum|dönüştürücü"},
	{meansGoods, "tr", "usb bellek"},
	// nobody buys it to fit it
	{meansGoods, "en", "for parts|parts only|not working|non-working|faulty|broken|defective|dead"},
	{meansGoods, "de", "defekt|defekte|defekter|defektes|kaputt|bastler|für bastler|ersatzteilspender"},
	{meansGoods, "fr", "défectueux|défectueuse|hors service|en panne|pour pièces"},
	{meansGoods, "es", "averiado|averiada|defectuoso|defectuosa|no funciona|para piezas|para repuestos"},
	{meansGoods, "pt", "avariado|avariada|com defeito|não funciona"},
	{meansGoods, "it", "guasto|guasta|difettoso|difettosa|non funzionante|per ricambi"},
	{meansGoods, "nl", "defect|defecte|kapot|voor onderdelen"},
	{meansGoods, "sv", "trasig|trasigt|defekta|för reservdelar"},
	{meansGoods, "pl", "uszkodzony|uszkodzona|uszkodzone|niesprawny|niesprawna|na części"},
	{meansGoods, "cs", "vadný|vadná|nefunkční|na díly"},
	{meansGoods, "ru", "неисправна|неисправный|неисправная|нерабочая|нерабочий|на запчасти"},
	{meansGoods, "ja", "ジャンク|故障品"},
	{meansGoods, "zh", "故障|坏的|维修件"},
	{meansGoods, "tr", "arızalı|bozuk"},
	{meansOnDie, "en", "on-die ecc|on die ecc|ondie ecc|on-die-ecc|odecc"},
	{meansCooling, "en", "heatsink|heatsinks|heat sink|heat sinks|heat spreader|heatspreader|heat spreaders"},
	{meansCooling, "en", "cooler|fan"},
	{meansCooling, "de", "kühler|kuehler|kühlkörper|heatspreader|lüfter"},
	{meansCooling, "fr", "dissipateur|dissipateurs|radiateur|ventirad"},
	{meansCooling, "es", "disipador|disipadores"},
	{meansCooling, "pt", "dissipador"},
	{meansCooling, "it", "dissipatore|dissipatori"},
	{meansCooling, "nl", "koeler|koelblok"},
	{meansCooling, "sv", "kylare|kylfläns"},
	{meansCooling, "pl", "radiator|radiatory|chłodzenie"},
	{meansCooling, "cs", "chladič|chladiče"},
	{meansCooling, "ru", "радиатор|радиаторы|кулер"},
	{meansCooling, "ja", "ヒートシンク|ヒートスプレッダ"},
	{meansCooling, "zh", "散热片|散热器|散热"},
	{meansCooling, "tr", "soğutucu"},
	{meansLeast, "en", "minimum order|min order|min. order|moq|minimum"},
	{meansLeast, "de", "mindestbestellmenge|mindestabnahme|mindestens"},
	{meansLeast, "fr", "minimum de commande|commande minimum"},
	{meansLeast, "es", "pedido mínimo"},
	{meansLeast, "it", "ordine minimo"},
	{meansLeast, "nl", "minimale afname"},
	{meansNoAfter, "tr", "yok"},
	{meansNoAfter, "hu", "nélkül|nincs"},
	{meansNoAfter, "ja", "なし|無し|非対応"},
	// Units, and how numbers are said.
	{"gb", "ru", "гб|гбайт|гиг|гигабайт"},
	{"gb", "es", "gigas|giga|gigs"},
	{"gb", "en", "gig|gigabyte|gigabytes|gbyte|gbytes"},
	{"gb", "fr", "gigaoctet|gigaoctets"},
	{"mb", "en", "megabyte|megabytes|mbyte|mbytes"},
	{"mb", "ru", "мб|мбайт"},
	{"mhz", "ru", "мгц"},
	{"mt/s", "ru", "мт/с|мтс"},
	{"v", "ru", "в"},
	{"pin", "en", "pins|pines|contatti|contactos|contacts|contactpunten|kolíků|kolikov|pinli|nastaa|kontakter"},
	{"pin", "en", "contatos|ножек|пин|broches|kontakte|poli|polig|pole|stifts|stift|контактов|pinos|pinów|ピン|针"},
	{"2", "en", "two|pair|twin|duo|zwei|deux|dos|due|twee|dwa|dwie|два|две|paar|paire|par|coppia"},
	{"3", "en", "three|triple|trio|drei|trois|tres|tre|drie|trzy|три"},
	{"4", "en", "four|vier|quatre|cuatro|quattro|cztery|четыре"},
	{"rank", "en", "rang"},
}

// said are the lexicon's single words, and its phrases, longest first.
type said struct {
	words   map[string]string
	phrases []phrase
	index   *phraseIndex
}

type phrase struct{ text, means string }

// lexicons are made when the first listing is read.
var lexicons = sync.OnceValue(func() said {
	s := said{words: make(map[string]string)}
	for _, row := range lexicon {
		for word := range strings.SplitSeq(row.words, "|") {
			if strings.ContainsRune(word, ' ') || glued(word) || strings.ContainsAny(word, "/'") ||
				strings.Contains(strings.TrimSuffix(word, "."), ".") { // text is cut at a full stop
				s.phrases = append(s.phrases, phrase{word, row.means})
			} else {
				s.words[word] = row.means
			}
		}
	}
	slices.SortStableFunc(s.phrases, func(a, b phrase) int { return len(b.text) - len(a.text) })
	s.index = indexOf(s.phrases)
	return s
})

// glued reports whether a word is of a language that writes without spaces.
func glued(word string) bool {
	return strings.ContainsFunc(word, func(r rune) bool {
		return unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana)
	})
}
