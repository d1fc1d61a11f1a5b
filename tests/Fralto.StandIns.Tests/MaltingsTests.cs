using Fralto.Core.Modbus;
using Fralto.Core.Planning;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.StandIns.Maltings;
using Fralto.StandIns.Modbus;

namespace Fralto.StandIns.Tests;

public sealed class MaltingsTests
{
    [Fact]
    public void The_same_seed_and_time_give_the_same_kiln_however_the_clock_ticks()
    {
        var (coarse, fine) = (new Kiln(7, 2.5), new Kiln(7, 2.5));
        coarse.AdvanceTo(TimeSpan.FromHours(6));
        for (var minutes = 0; minutes <= 360; minutes++)
            fine.AdvanceTo(TimeSpan.FromMinutes(minutes));
        State(fine).ShouldBe(State(coarse));
        var other = new Kiln(8, 2.5);
        other.AdvanceTo(TimeSpan.FromHours(6));
        State(other).ShouldNotBe(State(coarse));
    }

    [Fact]
    public void The_past_tells_every_tag_that_lives_the_slow_ones_less_often_and_with_the_same_mistakes()
    {
        var model = ShippedModel.Build();
        var from = new DateTimeOffset(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
        var batches = new MaltingsPast(model, 3).Between(from, from.AddHours(7)).ToArray();
        batches.Length.ShouldBe(60 + 6 * 360);
        var told = batches[0].Samples.Select(s => (s.TagId, s.Element)).ToHashSet();
        told.Count.ShouldBe(batches[0].Samples.Length);
        // The hub says nothing of the level of one silo, and nobody says text.
        model
            .Tags.Values.Where(t => t.Type != RawType.Text && !told.Contains((t.Id, t.Count - 1)))
            .Select(t => t.Name)
            .ShouldBe([$"silo/{SiloHub.WithoutLevel}/level", $"silo/{SiloHub.WithoutLevel}/level-mA"], ignoreOrder: true);
        var slow = model.Tags.Values.Where(t => t.Name.StartsWith("silo/", StringComparison.Ordinal)).Select(t => t.Id).ToHashSet();
        for (var i = 0; i < 12; i++)
            batches[i].Samples.Any(s => slow.Contains(s.TagId)).ShouldBe(i % 6 == 0);
        double Of(string tag, int batch) =>
            batches[batch].Samples.Single(s => s.TagId == model.Tags.Values.Single(t => t.Name == tag).Id && s.Element == 0).Raw;
        var (silos, boxes) = (StandInPlant.SilosOf(3), StandInPlant.BoxesOf(3));
        silos[SiloHub.MassInKilograms - 1].AdvanceTo(TimeSpan.FromHours(6));
        Of($"silo/0{SiloHub.MassInKilograms}/mass", 6).ShouldBe(silos[SiloHub.MassInKilograms - 1].Mass, 0.5);
        silos[0].AdvanceTo(TimeSpan.FromHours(6));
        Of("silo/01/mass", 6).ShouldBe(silos[0].Mass / 0.45359237, 0.5);
        Of("silo/01/cable-2", 6).ShouldBe(silos[0].Cables[1] * 1.8 + 32, 0.05);
        boxes[BoxEdge.SwappedBed - 1].AdvanceTo(TimeSpan.FromHours(7));
        Of($"box/{BoxEdge.SwappedBed}/bed/top", 7).ShouldBe(boxes[BoxEdge.SwappedBed - 1].Bed[2], 0.005);
        Of("box/1/fan/run", 7).ShouldBe(1);
    }

    [Fact]
    public void A_kiln_that_goes_in_long_steps_is_the_same_kiln()
    {
        var (coarse, fine) = (new Kiln(7, 2.5) { Step = TimeSpan.FromSeconds(20) }, new Kiln(7, 2.5));
        for (var minutes = 0; minutes < 60 * 60; minutes += 5)
        {
            coarse.AdvanceTo(TimeSpan.FromMinutes(minutes));
            fine.AdvanceTo(TimeSpan.FromMinutes(minutes));
            coarse.Phase.ShouldBe(fine.Phase);
            coarse.AirOn.ShouldBe(fine.AirOn, 4, $"{minutes}");
            coarse.Moisture.ShouldBe(fine.Moisture, 4, $"{minutes}");
        }
    }

    [Fact]
    public void A_cycle_looks_like_a_kiln()
    {
        var kiln = new Kiln(1, 0);
        var phases = new List<KilnPhase>();
        var (hottest, wettest, driest, mostGas) = (0d, 0d, 100d, 0d);
        for (var minutes = 0; minutes < 20 * 60; minutes++)
        {
            kiln.AdvanceTo(TimeSpan.FromMinutes(minutes));
            if (phases.LastOrDefault() != kiln.Phase)
                phases.Add(kiln.Phase);
            (hottest, wettest, driest, mostGas) = (
                Math.Max(hottest, kiln.AirOn),
                Math.Max(wettest, kiln.Moisture),
                Math.Min(driest, kiln.Moisture),
                Math.Max(mostGas, kiln.Gas)
            );
            kiln.AirOff.ShouldBeInRange(10, 75);
            kiln.BedDepth.ShouldBeInRange(0.6, 1.1);
        }
        phases.ShouldBe([
            KilnPhase.Loading,
            KilnPhase.Withering,
            KilnPhase.Break,
            KilnPhase.Drying,
            KilnPhase.Curing,
            KilnPhase.Cooling,
            KilnPhase.Unloading,
        ]);
        hottest.ShouldBeInRange(83, 88);
        wettest.ShouldBeInRange(42, 47);
        driest.ShouldBeInRange(4, 6);
        mostGas.ShouldBeInRange(300, 800);
    }

    [Fact]
    public void A_flame_that_fails_cools_the_air_and_comes_back()
    {
        var kiln = new Kiln(1, 4) { TripsEveryHours = 4.5 };
        kiln.AdvanceTo(TimeSpan.FromHours(0.4));
        var before = kiln.AirOn;
        kiln.AdvanceTo(TimeSpan.FromHours(0.7));
        kiln.BurnerOn.ShouldBeFalse();
        kiln.AirOn.ShouldBeLessThan(before - 15);
        kiln.AdvanceTo(TimeSpan.FromHours(1.5));
        kiln.BurnerOn.ShouldBeTrue();
        kiln.AirOn.ShouldBe(before, 3);
    }

    [Fact]
    public void A_steep_fills_soaks_drains_and_rests_for_forty_hours()
    {
        var steep = new Steep(1, 0);
        var steps = new List<SteepStep>();
        for (var minutes = 0; minutes < 40 * 60; minutes += 2)
        {
            steep.AdvanceTo(TimeSpan.FromMinutes(minutes));
            if (steps.LastOrDefault() != steep.Step)
                steps.Add(steep.Step);
            steep.Level.ShouldBeInRange(-0.05, 3.2);
            steep.Temperature.ShouldBeInRange(12, 18);
            steep.Oxygen.ShouldBeInRange(0.1, 12);
            (steep.Flow > 0).ShouldBe(steep.Step == SteepStep.Fill);
        }
        steps.Count(s => s == SteepStep.Soak).ShouldBe(3);
        steps[^2..].ShouldBe([SteepStep.Empty, SteepStep.Idle]);
    }

    [Fact]
    public void The_steep_controller_gives_counts_a_root_a_status_word_bcd_and_one_broken_wire()
    {
        var steeps = Enumerable.Range(0, 8).Select(i => new Steep(3, i * 5 + 0.3)).ToArray();
        var plc = new SteepPlc(steeps);
        ReadOnlySpan<ushort> Words(int steep) =>
            plc
                .Bank.Answer(
                    ModbusRequest.Read(ModbusFunction.ReadInputRegisters, steep * SteepPlc.RegistersPerSteep, SteepPlc.RegistersPerSteep)
                )
                .Words.AsSpan();
        var card = Signal.Of(SignalKind.Counts15);
        new LinearScale(card, new(0, 3.2)).ToEngineering((short)Words(0)[0]).ShouldBe(steeps[0].Level, 1e-3);
        new SquareRootScale(card, new(0, 60)).ToEngineering((short)Words(0)[3]).ShouldBe(steeps[0].Flow, 0.05);
        (Words(0)[4] & 7).ShouldBe((int)SteepStep.Fill);
        RawCodec.Read(Words(0)[5..], RawType.Bcd16, WordOrder.HighFirst).ShouldBe(18);
        card.Complaint((short)Words(SteepPlc.BrokenSensor - 1)[1])!.ShouldContain("3.2 mA");
        RawCodec
            .ReadText(
                plc.Bank.Answer(ModbusRequest.Read(ModbusFunction.ReadInputRegisters, SteepPlc.TypePlateAt, 8)).Words.AsSpan(),
                16,
                WordOrder.HighFirst
            )
            .ShouldBe(SteepPlc.TypePlate);
    }

    [Fact]
    public void The_controller_shows_the_kiln_in_its_registers()
    {
        var kiln = new Kiln(1, 5);
        var plc = new KilnPlc([kiln]);
        plc.AdvanceTo(TimeSpan.FromMinutes(10));
        var words = plc.Bank.Answer(ModbusRequest.Read(ModbusFunction.ReadInputRegisters, 0, 14)).Words;
        RawCodec.Read(words.AsSpan(), RawType.Float32, WordOrder.LowFirst).ShouldBe(kiln.AirOn, 1e-4);
        ((words[11] >> 4) & 7).ShouldBe((int)KilnPhase.Withering);
        var contacts = plc.Bank.Answer(ModbusRequest.Read(ModbusFunction.ReadInputRegisters, plc.ContactsAt, KilnPlc.Contacts / 16)).Words;
        Enumerable
            .Range(0, 5)
            .Select(n => RawCodec.ReadPackedBool(contacts.AsSpan(), n, WordOrder.LowFirst))
            .ShouldBe([true, true, true, true, true]);
        (words[10] * 100.0 / KilnPlc.FullScale).ShouldBe(kiln.Fan, 0.01);
        plc.Bank.Answer(ModbusRequest.Read(ModbusFunction.ReadDiscreteInputs, 0, 3)).Bits.ShouldBe([true, true, true]);
    }

    [Fact]
    public void Switching_the_burner_off_by_its_coil_stops_the_gas()
    {
        var kiln = new Kiln(1, 5);
        var plc = new KilnPlc([kiln]);
        plc.Bank.Answer(ModbusRequest.WriteCoil(0, false)).Exception.ShouldBeNull();
        plc.AdvanceTo(TimeSpan.FromMinutes(1));
        kiln.Gas.ShouldBe(0);
    }

    [Fact]
    public void A_broken_sensor_reads_not_a_number()
    {
        var plc = new KilnPlc([new Kiln(1, 5)]);
        plc.BreakAirOn(0, true);
        double AirOn() =>
            RawCodec.Read(
                plc.Bank.Answer(ModbusRequest.Read(ModbusFunction.ReadInputRegisters, 0, 2)).Words.AsSpan(),
                RawType.Float32,
                WordOrder.LowFirst
            );
        AirOn().ShouldBe(double.NaN);
        plc.BreakAirOn(0, false);
        double.IsNaN(AirOn()).ShouldBeFalse();
    }

    [Theory]
    [InlineData(ModbusFunction.ReadCoils, 16, 1)]
    [InlineData(ModbusFunction.ReadInputRegisters, 79, 2)]
    public void Beyond_the_tables_there_is_nothing(ModbusFunction function, int address, int count) =>
        new RegisterBank(16, 16, 80, 80)
            .Answer(ModbusRequest.Read(function, address, count))
            .Exception.ShouldBe(ModbusExceptionCode.IllegalDataAddress);

    [Fact]
    public void A_refused_write_changes_nothing()
    {
        var bank = new RegisterBank(0, 0, 0, 2);
        bank.Answer(ModbusRequest.WriteRegisters(1, 5, 6)).Exception.ShouldBe(ModbusExceptionCode.IllegalDataAddress);
        bank.Answer(ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0, 2)).Words.ShouldBe([(ushort)0, (ushort)0]);
    }

    [Fact]
    public void The_demo_model_is_built_by_edits_that_are_all_allowed_and_leaves_work_at_Ashholt()
    {
        var model = ShippedModel.Build();
        var (plan, findings) = Planner.Compile(model);
        plan.Points.Count(p => p.Source == PointSource.Tag).ShouldBe(357);
        plan.Formulas.ShouldAllBe(f => f.Broken == null);
        model.Equipment.Count.ShouldBeInRange(125, 135);
        Integrity.Problems(model).ShouldBeEmpty();
        findings.ShouldNotContain(f => f.Code == Planner.MissingPart);
        findings.ShouldContain(f =>
            f.Code == Planner.Unbound && model.Index.PathOf(f.EquipmentId).StartsWith("Corvane/Ashholt", StringComparison.Ordinal)
        );
        plan.Points.ShouldAllBe(p => p.Source != PointSource.Tag || !p.Path.StartsWith("Corvane/Ashholt", StringComparison.Ordinal));
        model.Tags.Values.Select(t => t.Register?.Area).ShouldNotContain(RegisterArea.Coil);
    }

    private static (double, double, double, double, double, KilnPhase) State(Kiln k) =>
        (k.AirOn, k.AirOff, k.Moisture, k.Gas, k.BurnerSeconds, k.Phase);
}
