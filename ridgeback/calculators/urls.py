from django.urls import path

from ridgeback.calculators import outdoors, spectrum, views

app_name = "calculators"
urlpatterns = [
    path("calculators/", views.calculator_list, name="list"),
    path("calculators/spectrum/", spectrum.spectrum, name="spectrum"),
    path("calculators/outdoors/", outdoors.outdoors, name="outdoors"),
    path("calculators/<slug:slug>/", views.calculator, name="calculator"),
]
