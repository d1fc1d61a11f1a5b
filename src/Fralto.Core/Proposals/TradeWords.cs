using System.Collections.Frozen;

namespace Fralto.Core.Proposals;

/// <summary>Words of the trade in English, German and Spanish, with their usual abbreviations, by what they mean.</summary>
/// <remarks>Common practice, no source; the instrument letters stand apart in <see cref="InstrumentLetters"/>.</remarks>
internal static class TradeWords
{
    private const int ShortestStart = 3;
    private const int ShortestPart = 3;
    private const int ShortestHead = 4;

    /// <summary>A last word so long is one, whatever stands before it: Kesseltemperatur is a temperature.</summary>
    private const int TellingHead = 6;

    // meaning: words and abbreviations. A meaning that begins with * says what a value is for, and sets tags apart that measure the same.
    private const string Table = """
        temperature: temperature temp tmp tmpr tmprtr tptr temperatur temperatura tempr
        pressure: pressure press pres prs prss prssr druck drck presion
        differential: differential diff delta dp difference differenz differenzdruck diferencial diferencia
        level: level lvl lev lvel fuellstand fullstand fllstnd fst fullst niveau niv nivel stand
        full: full voll vll lleno llena
        empty: empty mpty leer vacio vacia
        flow: flow flw flowrate durchfluss drchflss durchfl dfl durchsatz volumenstrom massenstrom caudal cdl cdal flujo
        speed: speed spd rpm sped drehzahl drhzhl drz geschwindigkeit geschw velocidad vel vlcdd velocity
        current: current curr crrnt amps amp strom strm corriente corr crrnte
        voltage: voltage volt vltg spannung spng tension
        power: power pwr pwer leistung leist lstg potencia pot watt
        energy: energy enrgy energie energia
        mass: mass weight wght wgt wt gewicht gew gwcht masse peso load
        volume: volume vol volumen
        density: density dens dnsty dichte densidad
        humidity: humidity hum hmdty humid feuchte feuchtigkeit fcht feu humedad hmdd rh
        moisture: moisture moist mstr mst kornfeuchte wassergehalt
        position: position pos pstn stellung stell stllng posicion psc opening
        conductivity: conductivity cond cndctvty leitfaehigkeit leitfahigkeit lf conductividad
        acidity: ph acidity
        turbidity: turbidity turb trbdty truebung trubung turbidez
        oxygen: oxygen o2 oxy oxgn sauerstoff oxigeno do
        carbondioxide: co2 carbondioxide kohlendioxid
        vibration: vibration vib vbr vbrtn schwingung schwing vibracion
        frequency: frequency freq frqncy hz frequenz frecuencia
        torque: torque trq drehmoment drhmmnt par
        time: time tm zeit tiempo tmp
        hours: hours hrs hr betriebsstunden bstd stunden horas
        counter: counter cnt count cntr zaehler zahler contador
        total: total tot totalizer totaliser ttl summe gesamt
        depth: depth dpth tiefe hoehe hohe profundidad altura height hght
        run: run running rn runs rng laeuft lauft laufend betrieb btrb ein on marcha mrch operando funcionando
        fault: fault flt fail failure trip tripped stoerung storung stoer stor strng stg fallo fll falla averia
        door: door dr tuer tur tr puerta prta
        open: open opn opened offen auf abierta abierto abrt
        closed: closed close clsd zu geschlossen cerrada cerrado crrd
        valve: valve vlv vlve ventil vntl vent valvula vlvl
        pump: pump pmp pumpe bomba bmb
        fan: fan ventilator geblaese geblase luefter ventilador vntldr blower
        motor: motor mtr mot
        agitator: agitator agit agttr stirrer ruehrwerk ruhrwerk mixer agitador
        burner: burner brnr brenner brnnr quemador qmdr
        flame: flame flm flamme llama
        gas: gas abgas
        water: water wtr wasser wssr agua agu
        steam: steam stm dampf dmpf vapor vpr
        air: air luft lft zuluft abluft fortluft umluft aire
        oil: oil oel aceite
        inlet: inlet in inl inlt supply ein eintritt eintr einlass zulauf zul zlf zuluft vorlauf vl entrada ent entr entrd suction
        outlet: outlet out outl otlt aus austritt austr auslass ablauf abl abluft
        outlet: fortluft abgas rucklauf ruecklauf rl salida sal sld discharge return exhaust
        top: top oben obn superior sup arriba upper
        middle: middle mid mitte mttl medio mdi
        bottom: bottom btm bttm bot unten untn unt inferior inf abajo lower
        left: left lft links izquierda izq
        right: right rght rechts derecha der
        front: front vorn frente
        rear: rear back hinten atras
        main: main mn haupt principal
        bed: bed schuettung lecho
        phase: phase ph phs fase
        step: step stp schritt schrtt paso
        state: state stat status sts stt zustand estado std
        product: product prod produkt producto
        jacket: jacket jckt jkt mantel mntl camisa
        bearing: bearing brg brng lager lgr cojinete rodamiento
        winding: winding wndg wicklung bobinado
        *setpoint: setpoint sp stpt setp sollwert soll sw consigna cons csg stp
        *output: output op outp stellgroesse stellgrosse stgr ausgang mv cv
        *mode: mode md betriebsart modo auto automatic automatik manual hand
        *alarm: alarm alm al alrm alarma warn warning
        *high: high hi hoch alto
        *low: low lo niedrig tief bajo
        *limit: limit lim lmt grenzwert limite max min maximum minimum
        *command: command cmd cmnd befehl bef orden start stop strt
        *feedback: feedback fb fbk rueckmeldung ruckmeldung rm retro
        *actual: actual act pv istwert ist value val valor wert measured
        *simulated: simulated sim simulation simulacion
        *spare: spare reserve reserva test tst dummy unused old alt copy backup bak
        *mean: mean avg average mittel mittelwert media promedio
        *raw: raw roh crudo
        *quality: quality qual
        *recipe: recipe rezept receta
        *enable: enable enbl freigabe frg habilitar
        *reset: reset rst ruecksetzen
        """;

    private static readonly Dictionary<string, string[]> Meanings = Read();

    private static readonly Dictionary<string, string[]>.AlternateLookup<ReadOnlySpan<char>> Words = Meanings.GetAlternateLookup<
        ReadOnlySpan<char>
    >();

    /// <summary>What shortened words may mean: starts, and starts of the consonants, of words that are at least two letters
    /// longer.</summary>
    private static readonly FrozenDictionary<string, string[]> Shortened = Meanings
        .SelectMany(m => ShortFormsOf(m.Key).Select(form => (Form: form, m.Value)))
        .GroupBy(f => f.Form)
        .ToFrozenDictionary(g => g.Key, g => g.SelectMany(f => f.Value).Distinct().Take(3).ToArray(), StringComparer.Ordinal);

    /// <summary>What a word may mean; empty for a word of no known meaning. Starts and vowelless forms of long words count.</summary>
    public static IReadOnlyList<string> Of(string word) =>
        Meanings.TryGetValue(word, out var exact) ? exact : Shortened.GetValueOrDefault(word, []);

    /// <summary>The words of the table that a word is put together from, as Zulufttemperatur from Zuluft and Temperatur, or "airtemp" from
    /// "air" and "temp"; what stands before a last word that is long may be any. Empty for a word that is not put together.</summary>
    public static IReadOnlyList<string> PartsOf(ReadOnlySpan<char> word)
    {
        if (word.Length < ShortestPart + ShortestHead || Words.ContainsKey(word))
            return [];
        // The longest last word says most; what it is put together with is looked at in the same way.
        for (var from = ShortestPart; from <= word.Length - ShortestHead; from++)
        {
            var first = word[..from];
            var head = word[from..];
            if (!Words.ContainsKey(head))
                continue;
            // Words are put together as they are, or by an s.
            for (var joint = 0; joint <= (first[^1] == 's' ? 1 : 0); joint++)
            {
                var modifier = first[..^joint];
                if (modifier.Length >= ShortestPart && Words.ContainsKey(modifier))
                    return [modifier.ToString(), head.ToString()];
                if (PartsOf(modifier) is { Count: > 0 } parts)
                    return [.. parts, head.ToString()];
            }
            if (head.Length >= TellingHead)
                return [first.ToString(), head.ToString()];
        }
        return [];
    }

    /// <summary>True for a word that stands in the table itself.</summary>
    public static bool Knows(string word) => Meanings.ContainsKey(word);

    /// <summary>True for a meaning that says what a value is for, not what is measured.</summary>
    public static bool IsPurpose(string meaning) => meaning[0] == '*';

    /// <summary>True when one word is another cut short: its start, or its first letter and its consonants.</summary>
    public static bool IsShort(string word, string full)
    {
        if (word.Length < 2 || word.Length >= full.Length || word[0] != full[0])
            return false;
        if (word.Length >= ShortestStart && full.StartsWith(word, StringComparison.Ordinal))
            return true;
        var skeleton = NodeNames.Consonants(full);
        return word.Length >= ShortestStart
            && skeleton.Length >= ShortestStart
            && (skeleton == word || skeleton.StartsWith(word, StringComparison.Ordinal));
    }

    private static IEnumerable<string> ShortFormsOf(string full) =>
        new[] { full, NodeNames.Consonants(full) }
            .SelectMany(whole =>
                Enumerable
                    .Range(ShortestStart, Math.Max(0, Math.Min(whole.Length, full.Length - 2) - ShortestStart + 1))
                    .Select(length => whole[..length])
            )
            .Distinct();

    private static Dictionary<string, string[]> Read() =>
        Table
            .Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(line => line.Split(':'))
            .SelectMany(p =>
                p[1].Split(' ', StringSplitOptions.RemoveEmptyEntries).Append(p[0].Trim('*')).Select(w => (Word: w, Meaning: p[0]))
            )
            .GroupBy(p => p.Word)
            .ToDictionary(g => g.Key, g => g.Select(p => p.Meaning).Distinct().ToArray(), StringComparer.Ordinal);
}
