from django.urls import path

from ridgeback.calculators import spectrum, views

app_name = "calculators"
urlpatterns = [
    path("calculators/", views.calculator_list, name="list"),
    path("calculators/spectrum/", spectrum.spectrum, name="spectrum"),
    path("calculators/<slug:slug>/", views.calculator, name="calculator"),
]
