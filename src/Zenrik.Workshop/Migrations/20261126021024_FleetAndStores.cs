using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class FleetAndStores : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(name: "ix_units_model_code_state", table: "units");

            migrationBuilder.DropCheckConstraint(name: "ck_part_orders_quantity", table: "part_orders");

            migrationBuilder.DropIndex(name: "ix_movements_from_bin_id", table: "movements");

            migrationBuilder.DropIndex(name: "ix_movements_lot_id", table: "movements");

            migrationBuilder.DropIndex(name: "ix_movements_to_bin_id", table: "movements");

            migrationBuilder.DropIndex(name: "ix_items_number_id", table: "items");

            migrationBuilder.AddColumn<bool>(
                name: "in_loan_pool",
                table: "units",
                type: "boolean",
                nullable: false,
                defaultValue: false
            );

            migrationBuilder.AddColumn<DateOnly>(name: "warranty_until", table: "units", type: "date", nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "arrived",
                table: "part_orders",
                type: "integer",
                nullable: false,
                defaultValue: 0
            );

            migrationBuilder.AddColumn<decimal>(
                name: "landed_in_fact",
                table: "part_orders",
                type: "numeric(12,2)",
                precision: 12,
                scale: 2,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "note",
                table: "movements",
                type: "character varying(200)",
                maxLength: 200,
                nullable: true
            );

            migrationBuilder.AddColumn<long>(name: "rights_id", table: "movements", type: "bigint", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "batch",
                table: "items",
                type: "character varying(40)",
                maxLength: 40,
                nullable: true
            );

            migrationBuilder.AddColumn<decimal>(
                name: "cost",
                table: "items",
                type: "numeric(10,2)",
                precision: 10,
                scale: 2,
                nullable: true
            );

            migrationBuilder.AddColumn<int>(
                name: "minimum_level",
                table: "catalogue_numbers",
                type: "integer",
                nullable: true
            );

            migrationBuilder.AddColumn<int>(
                name: "order_up_to",
                table: "catalogue_numbers",
                type: "integer",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "search_text",
                table: "units",
                type: "text",
                nullable: true,
                computedColumnSql: "lower(tag || ' ' || serial || ' ' || coalesce(user_name, '') || ' ' || site)",
                stored: true
            );

            migrationBuilder.CreateTable(
                name: "battery_readings",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    item_id = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    full_wh = table.Column<double>(type: "double precision", nullable: false),
                    design_wh = table.Column<double>(type: "double precision", nullable: false),
                    cycles = table.Column<int>(type: "integer", nullable: true),
                    model = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    serial = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_battery_readings", x => x.id);
                    table.CheckConstraint("ck_battery_readings_energies", "full_wh >= 0 AND design_wh > 0");
                    table.ForeignKey(
                        name: "fk_battery_readings_items_item_id",
                        column: x => x.item_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_battery_readings_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "campaign_marks",
                columns: table => new
                {
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    campaign = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    done_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign_marks", x => new { x.unit_id, x.campaign });
                    table.ForeignKey(
                        name: "fk_campaign_marks_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "done_requests",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    said = table.Column<string>(type: "character varying(1000)", maxLength: 1000, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_done_requests", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "loans",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    to = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    due_on = table.Column<DateOnly>(type: "date", nullable: true),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                    out_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    out_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    back_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    back_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_loans", x => x.id);
                    table.ForeignKey(
                        name: "fk_loans_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_loans_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_loans_users_out_by_id",
                        column: x => x.out_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "stocktakes",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    bin_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    seen_movement = table.Column<long>(type: "bigint", nullable: false),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    posted = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stocktakes", x => x.id);
                    table.ForeignKey(
                        name: "fk_stocktakes_bins_bin_id",
                        column: x => x.bin_id,
                        principalTable: "bins",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_stocktakes_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "unit_events",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    text = table.Column<string>(type: "character varying(240)", maxLength: 240, nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_unit_events", x => x.id);
                    table.ForeignKey(
                        name: "fk_unit_events_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_unit_events_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_unit_events_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "unit_questions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    text = table.Column<string>(type: "character varying(400)", maxLength: 400, nullable: false),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    number = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    serial = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    writable = table.Column<bool>(type: "boolean", nullable: false),
                    decided_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    decided_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    accepted = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_unit_questions", x => x.id);
                    table.ForeignKey(
                        name: "fk_unit_questions_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "stocktake_items",
                columns: table => new
                {
                    stocktake_id = table.Column<Guid>(type: "uuid", nullable: false),
                    item_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stocktake_items", x => new { x.stocktake_id, x.item_id });
                    table.ForeignKey(
                        name: "fk_stocktake_items_items_item_id",
                        column: x => x.item_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_stocktake_items_stocktakes_stocktake_id",
                        column: x => x.stocktake_id,
                        principalTable: "stocktakes",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "stocktake_lots",
                columns: table => new
                {
                    stocktake_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lot_id = table.Column<Guid>(type: "uuid", nullable: false),
                    counted = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stocktake_lots", x => new { x.stocktake_id, x.lot_id });
                    table.CheckConstraint("ck_stocktake_lots_counted", "counted >= 0");
                    table.ForeignKey(
                        name: "fk_stocktake_lots_lots_lot_id",
                        column: x => x.lot_id,
                        principalTable: "lots",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_stocktake_lots_stocktakes_stocktake_id",
                        column: x => x.stocktake_id,
                        principalTable: "stocktakes",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_units_bought_on_tag",
                table: "units",
                columns: new[] { "bought_on", "tag" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_units_model_code_tag",
                table: "units",
                columns: new[] { "model_code", "tag" }
            );

            migrationBuilder
                .CreateIndex(name: "ix_units_search_trigrams", table: "units", column: "search_text")
                .Annotation("Npgsql:IndexMethod", "gin")
                .Annotation("Npgsql:IndexOperators", new[] { "gin_trgm_ops" });

            migrationBuilder.CreateIndex(name: "ix_units_site_tag", table: "units", columns: new[] { "site", "tag" });

            migrationBuilder.CreateIndex(name: "ix_units_state_tag", table: "units", columns: new[] { "state", "tag" });

            migrationBuilder.CreateIndex(name: "ix_repairs_closed_at", table: "repairs", column: "closed_at");

            migrationBuilder.CreateIndex(
                name: "ix_repairs_unit_id_number",
                table: "repairs",
                columns: new[] { "unit_id", "number" }
            );

            migrationBuilder.AddCheckConstraint(
                name: "ck_part_orders_quantity",
                table: "part_orders",
                sql: "quantity > 0 AND landed >= 0 AND arrived BETWEEN 0 AND quantity"
            );

            migrationBuilder.CreateIndex(
                name: "ix_movements_from_bin_id_id",
                table: "movements",
                columns: new[] { "from_bin_id", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_movements_lot_id_id",
                table: "movements",
                columns: new[] { "lot_id", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_movements_rights_id",
                table: "movements",
                column: "rights_id",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_movements_to_bin_id_id",
                table: "movements",
                columns: new[] { "to_bin_id", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_items_in_bins",
                table: "items",
                columns: new[] { "number_id", "bin_id" },
                filter: "bin_id IS NOT NULL"
            );

            migrationBuilder.CreateIndex(
                name: "ix_items_number_id_unit_id",
                table: "items",
                columns: new[] { "number_id", "unit_id" }
            );

            migrationBuilder.CreateIndex(name: "ix_items_serial", table: "items", column: "serial");

            migrationBuilder.AddCheckConstraint(
                name: "ck_catalogue_numbers_level",
                table: "catalogue_numbers",
                sql: "(minimum_level IS NULL) = (order_up_to IS NULL) AND minimum_level >= 1 AND order_up_to >= minimum_level"
            );

            migrationBuilder.CreateIndex(
                name: "ix_battery_readings_item_id",
                table: "battery_readings",
                column: "item_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_battery_readings_unit_id_at",
                table: "battery_readings",
                columns: new[] { "unit_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_campaign_marks_campaign",
                table: "campaign_marks",
                column: "campaign"
            );

            migrationBuilder.CreateIndex(name: "ix_done_requests_at", table: "done_requests", column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_loans_one_out_per_unit",
                table: "loans",
                column: "unit_id",
                unique: true,
                filter: "back_at IS NULL"
            );

            migrationBuilder.CreateIndex(name: "ix_loans_out_by_id", table: "loans", column: "out_by_id");

            migrationBuilder.CreateIndex(name: "ix_loans_repair_id", table: "loans", column: "repair_id");

            migrationBuilder.CreateIndex(name: "ix_loans_unit_id", table: "loans", column: "unit_id");

            migrationBuilder.CreateIndex(
                name: "ix_stocktake_items_item_id",
                table: "stocktake_items",
                column: "item_id"
            );

            migrationBuilder.CreateIndex(name: "ix_stocktake_lots_lot_id", table: "stocktake_lots", column: "lot_id");

            migrationBuilder.CreateIndex(name: "ix_stocktakes_by_id", table: "stocktakes", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_stocktakes_one_open_per_bin",
                table: "stocktakes",
                column: "bin_id",
                unique: true,
                filter: "ended_at IS NULL"
            );

            migrationBuilder.CreateIndex(name: "ix_unit_events_by_id", table: "unit_events", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_unit_events_repair_id", table: "unit_events", column: "repair_id");

            migrationBuilder.CreateIndex(
                name: "ix_unit_events_unit_id_id",
                table: "unit_events",
                columns: new[] { "unit_id", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_unit_questions_open",
                table: "unit_questions",
                columns: new[] { "unit_id", "text" },
                unique: true,
                filter: "decided_at IS NULL"
            );

            migrationBuilder.AddForeignKey(
                name: "fk_movements_movements_rights_id",
                table: "movements",
                column: "rights_id",
                principalTable: "movements",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );

            migrationBuilder.Sql(
                """
                CREATE TRIGGER unit_events_append_only BEFORE UPDATE OR DELETE ON unit_events
                    FOR EACH ROW EXECUTE FUNCTION refuse_change();
                CREATE TRIGGER battery_readings_append_only BEFORE UPDATE OR DELETE ON battery_readings
                    FOR EACH ROW EXECUTE FUNCTION refuse_change();
                -- A unit in a repair stands where its repair does.
                UPDATE units u SET state = CASE r.state WHEN 'OnBench' THEN 'OnBench' ELSE 'AtCounter' END
                    FROM repairs r WHERE r.unit_id = u.id AND r.state IN ('Open', 'OnBench', 'Stopped');
                -- What was delivered before parts of an order could be.
                UPDATE part_orders SET arrived = quantity WHERE state = 'Received';
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                """
                DROP TRIGGER unit_events_append_only ON unit_events;
                DROP TRIGGER battery_readings_append_only ON battery_readings;
                """
            );
            migrationBuilder.DropForeignKey(name: "fk_movements_movements_rights_id", table: "movements");

            migrationBuilder.DropTable(name: "battery_readings");

            migrationBuilder.DropTable(name: "campaign_marks");

            migrationBuilder.DropTable(name: "done_requests");

            migrationBuilder.DropTable(name: "loans");

            migrationBuilder.DropTable(name: "stocktake_items");

            migrationBuilder.DropTable(name: "stocktake_lots");

            migrationBuilder.DropTable(name: "unit_events");

            migrationBuilder.DropTable(name: "unit_questions");

            migrationBuilder.DropTable(name: "stocktakes");

            migrationBuilder.DropIndex(name: "ix_units_bought_on_tag", table: "units");

            migrationBuilder.DropIndex(name: "ix_units_model_code_tag", table: "units");

            migrationBuilder.DropIndex(name: "ix_units_search_trigrams", table: "units");

            migrationBuilder.DropIndex(name: "ix_units_site_tag", table: "units");

            migrationBuilder.DropIndex(name: "ix_units_state_tag", table: "units");

            migrationBuilder.DropIndex(name: "ix_repairs_closed_at", table: "repairs");

            migrationBuilder.DropIndex(name: "ix_repairs_unit_id_number", table: "repairs");

            migrationBuilder.DropCheckConstraint(name: "ck_part_orders_quantity", table: "part_orders");

            migrationBuilder.DropIndex(name: "ix_movements_from_bin_id_id", table: "movements");

            migrationBuilder.DropIndex(name: "ix_movements_lot_id_id", table: "movements");

            migrationBuilder.DropIndex(name: "ix_movements_rights_id", table: "movements");

            migrationBuilder.DropIndex(name: "ix_movements_to_bin_id_id", table: "movements");

            migrationBuilder.DropIndex(name: "ix_items_in_bins", table: "items");

            migrationBuilder.DropIndex(name: "ix_items_number_id_unit_id", table: "items");

            migrationBuilder.DropIndex(name: "ix_items_serial", table: "items");

            migrationBuilder.DropCheckConstraint(name: "ck_catalogue_numbers_level", table: "catalogue_numbers");

            migrationBuilder.DropColumn(name: "search_text", table: "units");

            migrationBuilder.DropColumn(name: "in_loan_pool", table: "units");

            migrationBuilder.DropColumn(name: "warranty_until", table: "units");

            migrationBuilder.DropColumn(name: "arrived", table: "part_orders");

            migrationBuilder.DropColumn(name: "landed_in_fact", table: "part_orders");

            migrationBuilder.DropColumn(name: "note", table: "movements");

            migrationBuilder.DropColumn(name: "rights_id", table: "movements");

            migrationBuilder.DropColumn(name: "batch", table: "items");

            migrationBuilder.DropColumn(name: "cost", table: "items");

            migrationBuilder.DropColumn(name: "minimum_level", table: "catalogue_numbers");

            migrationBuilder.DropColumn(name: "order_up_to", table: "catalogue_numbers");

            migrationBuilder.CreateIndex(
                name: "ix_units_model_code_state",
                table: "units",
                columns: new[] { "model_code", "state" }
            );

            migrationBuilder.AddCheckConstraint(
                name: "ck_part_orders_quantity",
                table: "part_orders",
                sql: "quantity > 0 AND landed >= 0"
            );

            migrationBuilder.CreateIndex(name: "ix_movements_from_bin_id", table: "movements", column: "from_bin_id");

            migrationBuilder.CreateIndex(name: "ix_movements_lot_id", table: "movements", column: "lot_id");

            migrationBuilder.CreateIndex(name: "ix_movements_to_bin_id", table: "movements", column: "to_bin_id");

            migrationBuilder.CreateIndex(name: "ix_items_number_id", table: "items", column: "number_id");
        }
    }
}
