package reading

import (
	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/rating"
	"grapnel/core/words"
)

func from(l words.List) document.Shape { return document.Words(l.Codes()...) }

// TempShape is a battery's temperature in any document.
func TempShape() document.Shape { return document.Number(-50, 70, "°C") }

// StandardShape is a cranking standard in any document.
func StandardShape() document.Shape { return from(rating.StandardWords()) }

// ChemistryShape is a battery's build in any document.
func ChemistryShape() document.Shape { return from(battery.ChemistryWords()) }

// RatingShape is a battery's label in any document.
func RatingShape() document.Shape {
	return document.Object(nil, map[string]document.Shape{
		"cca": document.Number(5, 3000, "A").
			About("cold cranking amps by the standard"),
		"standard": StandardShape().About("SAE when left out"),
		"rc_min": document.Number(1, 1000, "min").
			About("reserve capacity, minutes"),
		"ah_20h":      document.Number(1, 600, "Ah").About("ampere-hours at the 20 h rate"),
		"ca":          document.Number(5, 4000, "A").About("cranking amps at 0 °C"),
		"charge_amps": document.Number(0.1, 100, "A").About("amps it may be charged with, where they are printed"),
		"typical":     document.Flag().About("true when these are typical of the class and nobody has read the label")})
}

// VehicleShape is what a battery serves.
func VehicleShape() document.Shape {
	return document.Object([]string{"class"}, map[string]document.Shape{
		"class": from(classes), "name": document.Text(80).About("what the workshop calls it"), "fuel": from(fuels),
		"system_volts": document.Shape{Kind: "number", Words: systemVolts.Codes(), Unit: "V"}.
			About("nominal volts of the vehicle; 12 when left out"),
		"earth":      from(earths).About("which post is bonded to the body; negative when left out"),
		"stop_start": document.Flag(), "high_voltage": document.Flag(),
		"made_year":   {Kind: "integer", Min: 1900, Max: 2100, Null: true},
		"arrangement": from(arrangements)})
}

// BatteryShape is the battery on the bench and its label.
func BatteryShape() document.Shape {
	return document.Object([]string{"chemistry"}, map[string]document.Shape{
		"tag": document.Text(40).About("the shop's own tag"), "chemistry": ChemistryShape(),
		"caps": from(caps), "eye": document.Flag(), "terminals": from(terminals), "rating": RatingShape(),
		"made":   document.Shape{Kind: "month", Null: true}.About("year and month, 2022-03"),
		"fitted": document.Shape{Kind: "month", Null: true}.About("year and month, 2022-06")})
}

// ConditionsShape is the temperature around and in the battery.
func ConditionsShape() document.Shape {
	return document.Object(nil, map[string]document.Shape{
		"ambient_c": document.Number(-50, 60, "°C"),
		"battery_c": TempShape().About("of the acid, which lags the shop by hours")})
}

// ComplaintShape is the words of the complaint.
func ComplaintShape() document.Shape { return document.List(0, 20, from(complaints)) }
