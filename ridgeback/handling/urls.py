from django.urls import path

from ridgeback.handling import views

app_name = "handling"
urlpatterns = [
    path("animals/<int:pk>/handling/", views.page, name="page"),
    path("animals/<int:pk>/handling/begin/", views.begin, name="begin"),
]
